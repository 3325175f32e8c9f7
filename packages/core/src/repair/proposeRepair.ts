// From a finding to the repairs that may close it: its outline as a mask over each of its donors, narrow first.
import type { Defect } from '../inspect';
import type { OutlineShape } from './shapes';

/** A repair that is tried. */
export interface ProposedRepair {
  readonly donor: number;
  readonly shape: OutlineShape;
  /** Whether the donor's tone is to be brought to its surroundings. */
  readonly isMatched: boolean;
}

/** What decides which repairs are worth trying. */
export interface RepairCase {
  readonly defect: Defect;
  /** Frames of a stack have one tone; of panoramas and brackets they have not. */
  readonly isOfOneTone: boolean;
}

/**
 * How far a mask goes beyond an outline and fades, px: detectors count cells of 4 px and smooth over some 9, so that what they see of a
 * defect ends up to two cells before or behind it.
 */
const MASKS: readonly Mask[] = [
  { growPx: 8, featherPx: 8 },
  { growPx: 20, featherPx: 14 },
];
const SEAM_MASKS: readonly Mask[] = [
  { growPx: 40, featherPx: 30 },
  { growPx: 80, featherPx: 50 },
];

type Mask = Pick<OutlineShape, 'growPx' | 'featherPx'>;

const MATCHED_FIRST: ReadonlySet<Defect> = new Set(['halo', 'ghost'] as const);

/**
 * The repairs that may close a finding.
 * @param polygon of the finding, merge px
 * @param donors indices of the frames to repair from, the best first
 * @returns the repairs to be tried in this order, each with its result inspected: every mask with the best frame, then with the others
 */
export function proposeRepair(
  polygon: readonly (readonly [number, number])[],
  donors: readonly number[],
  { defect, isOfOneTone }: RepairCase,
): ProposedRepair[] {
  const shapeOf = (mask: Mask) => ({ kind: 'outline' as const, points: polygon, strength: 1, ...mask });
  // A step of tone is evened over a wide strip: narrow ones only move it.
  if (defect === 'seam')
    return donors.flatMap((donor) => SEAM_MASKS.map((mask) => ({ donor, shape: shapeOf(mask), isMatched: true })));
  return donors.flatMap((donor) =>
    MASKS.flatMap((mask) => {
      const plain = { donor, shape: shapeOf(mask), isMatched: false };
      const matched = { ...plain, isMatched: true };
      if (isOfOneTone) return [plain];
      // What overshoots or is half there has a tone that no frame has; elsewhere the frames' own tone is nearer the truth.
      return MATCHED_FIRST.has(defect) ? [matched, plain] : [plain, matched];
    }),
  );
}
