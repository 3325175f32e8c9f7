// The largest upright rectangle inside a shape: what a clean crop leaves.
import type { Region } from './raster';

/**
 * Finds the largest upright rectangle within a mask.
 * @param mask 1 inside, 0 outside, row by row
 * @returns the rectangle of most cells that are all inside; empty where none is
 * Cost: linear in the cells. Source: the largest rectangle under a histogram, row by row, with a stack.
 */
export function largestRectangle(mask: ArrayLike<number>, width: number, height: number): Region {
  const tall = new Int32Array(width + 1);
  let best: Region = { x: 0, y: 0, width: 0, height: 0 };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) tall[x] = mask[y * width + x] ? tall[x]! + 1 : 0;
    // Columns whose rectangle is still open, with growing heights; the last place is a wall of height 0.
    const open: number[] = [];
    for (let x = 0; x <= width; x++) {
      while (open.length > 0 && tall[open[open.length - 1]!]! >= tall[x]!) {
        const h = tall[open.pop()!]!;
        const from = open.length > 0 ? open[open.length - 1]! + 1 : 0;
        if (h * (x - from) > best.width * best.height) best = { x: from, y: y - h + 1, width: x - from, height: h };
      }
      open.push(x);
    }
  }
  return best;
}
