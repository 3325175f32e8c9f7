// From a finding to the repairs that may close it: masks over one of its donors, the likeliest first.
import type { Defect } from '../inspect';
import { CELL_PX } from '../kernels';
import type { MaskGrowth } from './fitMask';
import type { OutlineShape } from './shapes';

type Polygon = readonly (readonly [number, number])[];

/** A repair that is tried. */
export interface ProposedRepair {
  readonly shape: OutlineShape;
  /** Whether the donor's tone is to be brought to its surroundings. */
  readonly isMatched: boolean;
}

/** What decides how a finding is repaired. */
export interface RepairCase {
  readonly defect: Defect;
  /** Frames of a stack have one tone; of panoramas and brackets they have not. */
  readonly isOfOneTone: boolean;
}

type Mask = Pick<OutlineShape, 'growPx' | 'featherPx'>;

/** A fitted mask ends where both pictures agree: its rim need not be wide. */
const FITTED: Mask = { growPx: 4, featherPx: 8 };
/**
 * A finding's own outline is known to two cells: detectors count cells of 4 px and smooth over some 9, so that what they see of a defect
 * ends up to two cells before or behind it.
 */
const OWN: Mask = { growPx: 8, featherPx: 8 };

/** Cells that masks may grow beyond a finding at most, and those of a seam, whose step fades over a wide strip. */
const [REACH, SEAM_REACH] = [20, 40];
/** What is found of other things is most of them: their masks grow by this share of their size, and a few cells at least. */
const [OF_SIZE, LEAST_REACH] = [0.8, 6];
/** Where a stack's frame shows less than this of the merge's detail, as energy, it is out of focus, and the mask ends. */
const STACK_GAIN = 0.6;

/**
 * How far the mask of a finding may grow to fit its cause.
 * @param polygon of the finding, merge px
 */
export function maskGrowth(polygon: Polygon, { defect, isOfOneTone }: RepairCase): MaskGrowth {
  const leastGain = isOfOneTone ? STACK_GAIN : 0;
  if (defect === 'seam') return { reach: SEAM_REACH, leastGain };
  // Halos fade, and a stack's mask ends where its donor goes soft.
  if (defect === 'halo' || isOfOneTone) return { reach: REACH, leastGain };
  const across = Math.sqrt(areaOf(polygon)) / CELL_PX;
  return { reach: Math.round(Math.min(REACH, Math.max(LEAST_REACH, OF_SIZE * across))), leastGain };
}

/**
 * The repairs that may close a finding from one donor.
 * @param polygon of the finding, merge px
 * @param fitted outline of the mask that fits its cause, merge px
 * @returns the repairs in the order in which they are to be tried, each with its result inspected
 */
export function proposeRepair(polygon: Polygon, fitted: Polygon, { isOfOneTone }: RepairCase): ProposedRepair[] {
  const shapeOf = (points: Polygon, mask: Mask): OutlineShape => ({ kind: 'outline', points, strength: 1, ...mask });
  const masks = [shapeOf(fitted, FITTED), shapeOf(polygon, OWN)];
  return masks.flatMap((shape) => (isOfOneTone ? [false] : [false, true]).map((isMatched) => ({ shape, isMatched })));
}

/** What a polygon encloses, px² (the surveyor's formula). */
function areaOf(polygon: Polygon): number {
  const twice = polygon.reduce((sum, [x, y], i) => {
    const [u, v] = polygon[(i + 1) % polygon.length]!;
    return sum + x * v - u * y;
  }, 0);
  return Math.abs(twice) / 2;
}
