// Summed-area tables: the sum over any rectangle from four places (F. C. Crow, SIGGRAPH 1984).
import type { Plane } from './raster';

/** A table of a plane, one row and column larger than it: each entry is the sum of all that lies above and to the left. */
export interface SummedArea {
  readonly width: number;
  readonly height: number;
  readonly sums: Float64Array;
}

/**
 * Adds a plane up.
 * Cost: one pass; 8 bytes per sample.
 */
export function summedArea({ width, height, data }: Plane): SummedArea {
  const across = width + 1;
  const sums = new Float64Array(across * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0, i = y * width, at = (y + 1) * across + 1; x < width; x++, i++, at++) {
      row += data[i]!;
      sums[at] = sums[at - across]! + row;
    }
  }
  return { width, height, sums };
}

/**
 * Mean over a (2r+1)² window around a sample; at the border over the part inside, as boxSmooth has it.
 * @param radius in samples, 0 or more
 */
export function boxMean({ width, height, sums }: SummedArea, x: number, y: number, radius: number): number {
  const left = x > radius ? x - radius : 0;
  const top = y > radius ? y - radius : 0;
  const right = x + radius < width ? x + radius + 1 : width;
  const bottom = y + radius < height ? y + radius + 1 : height;
  const across = width + 1;
  const sum =
    sums[bottom * across + right]! -
    sums[top * across + right]! -
    sums[bottom * across + left]! +
    sums[top * across + left]!;
  return sum / ((right - left) * (bottom - top));
}

/**
 * Means around every n-th sample of a row, as boxMean has them one by one.
 * @param y row of the plane
 * @param every steps along the row, 1 or more
 * @param out receives one mean per step
 */
export function boxMeansAlong(
  table: SummedArea,
  y: number,
  radius: number,
  every: number,
  out: Float32Array | Float64Array,
): void {
  const { width, height, sums } = table;
  const across = width + 1;
  const top = (y > radius ? y - radius : 0) * across;
  const bottom = (y + radius < height ? y + radius + 1 : height) * across;
  const rows = (bottom - top) / across;
  const whole = 1 / (rows * (2 * radius + 1));
  for (let i = 0, x = 0; i < out.length; i++, x += every) {
    if (x < radius || x + radius >= width) {
      out[i] = boxMean(table, x, y, radius);
      continue;
    }
    const left = x - radius;
    const right = x + radius + 1;
    out[i] = (sums[bottom + right]! - sums[top + right]! - sums[bottom + left]! + sums[top + left]!) * whole;
  }
}
