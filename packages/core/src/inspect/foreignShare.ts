// What of the merge no frame explains, cell by cell.
import type { CellPicture, CellStack, CellTent } from '../cells';
import { VISIBLE_SQUARED } from './detection';

/** Detail of the frame that has most of it, per cell. */
export function greatestDetail({ frames }: CellStack): Float32Array {
  const out = new Float32Array(frames[0]!.fine.length);
  for (const { fine, middle, coarse } of frames) {
    for (let i = 0; i < out.length; i++) {
      const detail = fine[i]! + middle[i]! + coarse[i]!;
      if (detail > out[i]!) out[i] = detail;
    }
  }
  return out;
}

/** Detail of a picture at a cell, over all focus bands. */
export function detailAt(picture: CellPicture, cell: number): number {
  return picture.fine[cell]! + picture.middle[cell]! + picture.coarse[cell]!;
}

// Below this a cell is explained well enough that its colours need not be looked at.
const EXPLAINED = 1;

/**
 * Pixel variance of the merge's difference from the frames, over the frames' greatest detail: 0 the same, about 2 for
 * unrelated pictures with the same detail. A difference of the mean colour, which toning makes too, does not count, nor
 * does what cannot be seen.
 * @param greatest detail of the frame that has most of it
 * @param closest frame least unlike the merge
 */
export function foreignShare(
  stack: CellStack,
  tent: CellTent,
  greatest: number,
  closest: number,
  cell: number,
): number {
  const frame = stack.frames[closest]!;
  const residual = stack.unexplained[cell]!;
  const detail = greatest + stack.noiseMiddle[cell]!;
  if (residual < EXPLAINED * detail) return residual / detail;
  const colour = frame.mean.reduce((sum, plane, c) => {
    const d = tent.meanAt(plane, cell) - tent.meanAt(stack.merge!.mean[c]!, cell);
    return sum + (d * d) / 3;
  }, 0);
  // Grain hides what differs by less than it scatters.
  return residual - colour < VISIBLE_SQUARED + 0.5 * (stack.grain?.[cell] ?? 0) ? 0 : (residual - colour) / detail;
}
