// Which findings are shown to somebody who looks at the picture in a certain way and wants so few false alarms.
import { SEEN, visibilityIn, type Sight, type Viewing } from '../print';
import { surest } from './sureness';

/** What is judged of a finding. */
export interface Judgeable {
  readonly decision: string;
  readonly byHand: boolean;
  /** Visibility on a screen, 0..100: taken where no sight is known. */
  readonly severity: number;
  readonly sight: Sight | null;
  readonly confidence: number;
}

/** Findings as they are judged. */
export interface Judgement<F> {
  /** Visibility in that way of looking, 0..100. */
  readonly visibility: ReadonlyMap<F, number>;
  /** Open findings that are not seen so. */
  readonly unseen: ReadonlySet<F>;
  /** Open findings that would be seen, but are too unsure. */
  readonly unsure: ReadonlySet<F>;
}

/**
 * Judges findings for a way of looking. What was decided or marked by hand is never held back.
 * @param falseAlarms so many of the open findings shown may be expected to be nothing; undefined for no limit
 */
export function judgeFindings<F extends Judgeable>(
  findings: readonly F[],
  viewing: Viewing,
  falseAlarms?: number,
): Judgement<F> {
  const visibility = new Map(findings.map((f) => [f, f.sight ? visibilityIn(f.sight, viewing) : f.severity]));
  const questioned = findings.filter((f) => f.decision === 'open' && !f.byHand);
  const seen = questioned.filter((f) => visibility.get(f)! >= SEEN);
  const unseen = new Set(questioned.filter((f) => visibility.get(f)! < SEEN));
  const sure = new Set(falseAlarms === undefined ? seen : surest(seen, falseAlarms));
  return { visibility, unseen, unsure: new Set(seen.filter((f) => !sure.has(f))) };
}
