// How sure a finding is: the detector's evidence turned into how often such findings came true on scenes whose truth was known.
import type { Defect } from './detection';
import type { MergeKind } from './layers/layer';
import { CALIBRATION } from './calibration';
import type { Calibration } from './calibrationShape';

/** What is known of a finding before it is said how sure it is. */
export interface Evident {
  readonly kind: MergeKind;
  readonly defect: Defect;
  /** The detector's own confidence: 0.5 at its threshold. */
  readonly evidence: number;
  /** Just noticeable steps on a screen; NaN where that is not known. */
  readonly steps: number;
}

/** Evidence is no surer than this either way: detectors saturate. */
const SUREST = 0.98;
/** Steps are told apart between these. */
const [FEWEST, MOST] = [0.5, 30];

/**
 * Findings of which no more than so many are expected to be nothing: the surest, until one minus their confidence adds up to more.
 * @param most expected false alarms, 0 or more
 * @returns in the order they came
 */
export function surest<F extends { readonly confidence: number }>(findings: readonly F[], most: number): F[] {
  let expected = 0;
  const kept = new Set<F>();
  for (const finding of findings.toSorted((a, b) => b.confidence - a.confidence)) {
    expected += 1 - finding.confidence;
    if (expected > most) break;
    kept.add(finding);
  }
  return findings.filter((f) => kept.has(f));
}

/** The numbers that a calibration weighs: log odds of the evidence, and the logarithm of the steps. */
export function weighed({ evidence, steps }: Pick<Evident, 'evidence' | 'steps'>): readonly [number, number] {
  const sure = Math.min(SUREST, Math.max(1 - SUREST, evidence));
  const seen = Number.isFinite(steps) ? Math.min(MOST, Math.max(FEWEST, steps)) : 1;
  return [Math.log(sure / (1 - sure)), Math.log(seen)];
}

/**
 * How often findings like this one are real, 0..1.
 * @param calibration default: what was learnt from this version's own evaluations
 */
export function surenessOf(finding: Evident, calibration: Calibration = CALIBRATION): number {
  const { constant, evidence, steps, defects } = calibration.kinds[finding.kind];
  const [own, seen] = weighed(finding);
  const odds = constant + evidence * own + steps * seen + (defects[finding.defect] ?? 0);
  return 1 / (1 + Math.exp(-odds));
}
