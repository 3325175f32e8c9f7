// Who explains whom, as a table: one cause, one finding.
import { CELL_PX } from '../kernels';
import type { Defect, Detection } from './detection';

/** One defect's claim on a place against another's. */
export interface Claim {
  readonly of: Defect;
  /** What it explains: detections of this defect give way to it. */
  readonly explains: Defect;
  /** Share of the other's cells that must lie at it. */
  readonly share: number;
  /** It must be so many times larger than the other; default: any size. */
  readonly timesLarger?: number;
}

/**
 * Claims in the order in which they are settled; who has given way claims nothing any more.
 * What lies where no frame has it gives no sound measure of anything else. A halo softens the edge it sits on, and a soft patch
 * may smear a near edge: the larger claim that covers most of the other takes the place. What a mask did is no missing slice.
 */
export const CLAIMS: readonly Claim[] = [
  // What was filled along an edge is no picture: nothing else is wrong with it.
  { of: 'border', explains: 'misalignment', share: 0.3 },
  { of: 'border', explains: 'ghost', share: 0.3 },
  { of: 'border', explains: 'soft-patch', share: 0.3 },
  { of: 'border', explains: 'halo', share: 0.3 },
  { of: 'border', explains: 'focus-gap', share: 0.3 },
  { of: 'border', explains: 'dust', share: 0.3 },
  { of: 'border', explains: 'seam', share: 0.3 },
  { of: 'border', explains: 'clipping', share: 0.3 },
  { of: 'border', explains: 'mask-speckle', share: 0.3 },
  // At its end the merge has no structure that could be another's.
  { of: 'clipping', explains: 'misalignment', share: 0.4 },
  { of: 'clipping', explains: 'ghost', share: 0.4 },
  { of: 'clipping', explains: 'seam', share: 0.4 },
  // Light that bleeds from an edge ends in a step where a mask cut it off.
  { of: 'halo', explains: 'seam', share: 0.3 },
  { of: 'clipping', explains: 'halo', share: 0.5 },
  // Whatever is displaced, or from another moment, has other colours beside its edges, too.
  { of: 'border', explains: 'fringe', share: 0.3 },
  { of: 'misalignment', explains: 'fringe', share: 0.4 },
  { of: 'ghost', explains: 'fringe', share: 0.4 },
  { of: 'clipping', explains: 'fringe', share: 0.4 },
  // Beside a step of tone no window is one frame in one tone.
  { of: 'seam', explains: 'misalignment', share: 0.5 },
  // A cut ghost has steps along its cut.
  { of: 'ghost', explains: 'seam', share: 0.4 },
  // What moved is displaced too.
  { of: 'ghost', explains: 'misalignment', share: 0.5 },
  // A piece of something that moved lacks what its other pieces would show.
  { of: 'ghost', explains: 'soft-patch', share: 0.5 },
  { of: 'ghost', explains: 'halo', share: 0.5 },
  // Crumbs of softer frames are soft by themselves.
  { of: 'mask-speckle', explains: 'soft-patch', share: 0.4 },
  { of: 'mask-speckle', explains: 'focus-gap', share: 0.4 },
  { of: 'misalignment', explains: 'mask-speckle', share: 0.4 },
  { of: 'ghost', explains: 'mask-speckle', share: 0.4 },
  { of: 'misalignment', explains: 'soft-patch', share: 0.3 },
  { of: 'misalignment', explains: 'halo', share: 0.3 },
  { of: 'soft-patch', explains: 'halo', share: 0.5, timesLarger: 2 },
  { of: 'halo', explains: 'soft-patch', share: 0.4 },
  { of: 'misalignment', explains: 'focus-gap', share: 0.5 },
  { of: 'halo', explains: 'focus-gap', share: 0.5 },
  { of: 'soft-patch', explains: 'focus-gap', share: 0.5 },
];

/** Cells around a detection that count as at it. */
const NEAR_CELLS = 3;

/** Whether a defect, where it is found, hides another: that shows once it is gone. */
export function hides(defect: Defect, other: Defect): boolean {
  return CLAIMS.some((claim) => claim.of === defect && claim.explains === other);
}

/**
 * Settles overlaps: each place is claimed once.
 * @param detections of all detectors
 * @param gridWidth width of the evidence grid, in which their cells are counted
 * @param claims default: the table
 * @returns those that stay, in their order
 */
export function arbitrate(
  detections: readonly Detection[],
  gridWidth: number,
  claims: readonly Claim[] = CLAIMS,
): Detection[] {
  let standing = [...detections];
  const surrounds = new Map<Detection, ReadonlySet<number>>();
  const shareAt = (a: Detection, b: Detection): number => {
    if (!liesBeside(a, b)) return 0;
    const around = surrounds.get(b) ?? surroundOf(b, gridWidth);
    surrounds.set(b, around);
    return a.cells.filter((i) => around.has(i)).length / a.cells.length;
  };
  for (const { of, explains, share, timesLarger = 0 } of claims) {
    const claimants = standing.filter((d) => d.defect === of);
    const isExplained = (d: Detection): boolean =>
      d.defect === explains &&
      claimants.some((c) => c.cells.length > timesLarger * d.cells.length && shareAt(d, c) > share);
    standing = standing.filter((d) => !isExplained(d));
  }
  return standing;
}

/** Whether boxes come within a few cells of each other. */
function liesBeside({ bbox: a }: Detection, { bbox: b }: Detection): boolean {
  const near = (NEAR_CELLS + 1) * CELL_PX;
  return (
    a.x <= b.x + b.width + near &&
    b.x <= a.x + a.width + near &&
    a.y <= b.y + b.height + near &&
    b.y <= a.y + a.height + near
  );
}

/** Cells within a few cells of a detection. */
function surroundOf({ cells: own }: Detection, width: number): ReadonlySet<number> {
  const cells = new Set<number>();
  for (const i of own) {
    for (let dy = -NEAR_CELLS; dy <= NEAR_CELLS; dy++) {
      for (let dx = -NEAR_CELLS; dx <= NEAR_CELLS; dx++) cells.add(i + dy * width + dx);
    }
  }
  return cells;
}
