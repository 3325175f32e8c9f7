// Slices of a focus series, near to far, each overlapping the next.
import { badParameter } from '../checks';
import { sliceFromFar, sliceFromNear, type Slice, type SliceOptics } from './depthOfField';

/** Where the subject lies along the axis, mm. */
export interface DepthRange {
  readonly nearestMm: number;
  /** Infinity for an open view. */
  readonly farthestMm: number;
}

/** More frames than anyone shoots: a request for more is a slip of the pen. */
export const MOST_FRAMES = 999;

/**
 * A series from the nearest point on: the first slice's near limit is the nearest point, each next one starts before the last
 * one's far limit by the overlap, measured in dioptres, until a far limit passes the farthest point.
 * @param overlap share of a slice, 0 to less than 1
 * @param spare slices to shoot beyond both ends, since a missing one cannot be repaired; 0 or more
 * @returns slices near → far; null when more than `MOST_FRAMES` would be needed
 * @throws for an overlap out of range, or a near point inside the focal length
 */
export function planFocusSeries(
  optics: SliceOptics,
  range: DepthRange,
  overlap: number,
  spare = 0,
): readonly Slice[] | null {
  if (!(overlap >= 0 && overlap < 1)) throw badParameter('planFocusSeries.overlap', '0 to less than 1', overlap);
  if (!(range.nearestMm > optics.focalLengthMm))
    throw badParameter('planFocusSeries.nearestMm', `more than ${optics.focalLengthMm} mm`, range.nearestMm);
  const slices = [sliceFromNear(optics, range.nearestMm)];
  let beyond = 0;
  for (;;) {
    const last = slices.at(-1)!;
    if (last.farMm >= range.farthestMm && beyond++ >= spare) break;
    if (last.farMm === Infinity) break;
    if (slices.length >= MOST_FRAMES) return null;
    // Dioptres: a slice covers the same share of them at any distance.
    const far = 1 / last.farMm;
    slices.push(sliceFromNear(optics, 1 / (far + overlap * (1 / last.nearMm - far))));
  }
  for (let k = 0; k < spare; k++) {
    const first = slices[0]!;
    const span = 1 / first.nearMm - (first.farMm === Infinity ? 0 : 1 / first.farMm);
    const before = sliceFromFar(optics, 1 / (1 / first.nearMm - overlap * span));
    // Nearer than the focal length nothing can be focused.
    if (!(before.focusMm > optics.focalLengthMm * 1.02)) break;
    slices.unshift(before);
  }
  return slices.length > MOST_FRAMES ? null : slices;
}

/** What no slice holds sharp. */
export interface DepthGap {
  readonly nearMm: number;
  readonly farMm: number;
}

/**
 * Gaps of a series within a subject.
 * @param slices in any order
 * @returns parts of the range that no slice covers, near → far
 */
export function findGaps(slices: readonly Slice[], range: DepthRange): DepthGap[] {
  const gaps: DepthGap[] = [];
  let covered = range.nearestMm;
  // A slice that was solved for its near limit may miss it by rounding.
  const hair = 1 + 1e-9;
  for (const { nearMm, farMm } of [...slices].sort((a, b) => a.nearMm - b.nearMm)) {
    if (covered >= range.farthestMm) break;
    if (nearMm > covered * hair) gaps.push({ nearMm: covered, farMm: Math.min(nearMm, range.farthestMm) });
    covered = Math.max(covered, farMm);
  }
  if (covered * hair < range.farthestMm) gaps.push({ nearMm: covered, farMm: range.farthestMm });
  return gaps;
}

/** Overlap of two neighbouring slices as a share of the nearer one, in dioptres; negative for a gap. */
export function overlapOf(nearer: Slice, farther: Slice): number {
  const inverse = (mm: number): number => 1 / mm;
  return (inverse(farther.nearMm) - inverse(nearer.farMm)) / (inverse(nearer.nearMm) - inverse(nearer.farMm));
}
