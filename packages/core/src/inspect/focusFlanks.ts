// How blur grows on either side of a cell's sharpest frame.
import { blurVarianceFromBands } from '../image';
import type { CellStack } from '../cells';
import type { FocusAxis } from '../defocus';

// Blur estimates beyond this are ruled by noise.
const CURVE_MAX_BLUR_PX = 4.5;
const CURVE_OVER_NOISE = 3;

export interface FocusFlanks {
  readonly variance: number;
  readonly middle: number;
  readonly slope: number;
  readonly curvature: number;
}

/**
 * Blur of the best frame and its neighbours. With σ² = C + A·(u − u0)² the two sharpest neighbours give
 * u0 = middle − slope/A, with slope = Δσ²/(2Δu); the texture's own softness C drops out. A, which depends on the texture
 * too, is the second difference over three. Frames further away are left out: their blur saturates and would pull u0
 * towards the sparser side.
 * @returns null when the sharper neighbour is lost in noise
 */
export function focusFlanks(stack: CellStack, axis: FocusAxis, cell: number, best: number): FocusFlanks | null {
  const varianceOf = (k: number): number => {
    const f = stack.frames[k];
    if (!f?.valid[cell] || f.middle[cell]! < CURVE_OVER_NOISE * stack.noiseMiddle[cell]!) return NaN;
    const v = blurVarianceFromBands(f.middle[cell]!, f.coarse[cell]!);
    return v > CURVE_MAX_BLUR_PX ** 2 ? NaN : v;
  };
  const centre = varianceOf(best);
  const left = varianceOf(best - 1);
  const right = varianceOf(best + 1);
  const u = axis.positions;
  const energyLeft = stack.frames[best - 1]?.middle[cell] ?? -1;
  const energyRight = stack.frames[best + 1]?.middle[cell] ?? -1;
  const other = energyLeft > energyRight ? best - 1 : best + 1;
  const flank = energyLeft > energyRight ? left : right;
  if (Number.isNaN(centre) || Number.isNaN(flank)) return null;
  const slope = (flank - centre) / (u[other]! - u[best]!) / 2;
  const stepLeft = u[best]! - u[best - 1]!;
  const stepRight = u[best + 1]! - u[best]!;
  const curvature = ((right - centre) / stepRight - (centre - left) / stepLeft) / (stepLeft + stepRight);
  return { variance: centre, middle: (u[other]! + u[best]!) / 2, slope, curvature };
}
