// From a finding to the repairs that may close it: its outline as a mask over each of its donors, narrow first.
import type { OutlineShape } from './shapes';

/** A repair that is tried. */
export interface ProposedRepair {
  readonly donor: number;
  readonly shape: OutlineShape;
}

/**
 * How far a mask goes beyond an outline and fades, px: detectors count cells of 4 px and smooth over some 9, so that what they see of a
 * defect ends up to two cells before or behind it.
 */
const MASKS = [
  { growPx: 8, featherPx: 8 },
  { growPx: 20, featherPx: 14 },
] as const;

/**
 * The repairs that may close a finding.
 * @param polygon of the finding, merge px
 * @param donors indices of the frames to repair from, the best first
 * @returns the repairs to be tried in this order, each with its result inspected: every mask with the best frame, then with the others
 */
export function proposeRepair(
  polygon: readonly (readonly [number, number])[],
  donors: readonly number[],
): ProposedRepair[] {
  return donors.flatMap((donor) =>
    MASKS.map((mask) => ({ donor, shape: { kind: 'outline' as const, points: polygon, strength: 1, ...mask } })),
  );
}
