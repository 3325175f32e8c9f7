// Smoothing of small planes (cell grids, previews) by running sums.
import { badParameter } from '../checks';
import { makePlane, type Plane } from './raster';

/**
 * Mean over a (2r+1)² window; at the border over the part inside.
 * @param plane any size
 * @param radius in samples, 0 or more
 * Cost: independent of the radius.
 */
export function boxSmooth(plane: Plane, radius: number): Plane {
  if (!(radius >= 0 && Number.isInteger(radius)))
    throw badParameter('boxSmooth.radius', 'a whole number of samples, 0 or more', radius);
  if (radius === 0) return plane;
  const { width, height } = plane;
  const rows = makePlane(width, height);
  for (let y = 0; y < height; y++) boxLine(plane.data, rows.data, y * width, 1, width, radius);
  const out = makePlane(width, height);
  boxColumns(rows.data, out.data, width, height, radius);
  return out;
}

/** Two box passes: close to a Gaussian of σ ≈ sqrt(2·((2r+1)² − 1)/12). */
export function tentSmooth(plane: Plane, radius: number): Plane {
  return boxSmooth(boxSmooth(plane, radius), radius);
}

/**
 * Smooths values weighted by a second plane (normalised convolution, Knutsson and Westin 1993).
 * @returns mean of value where weight counts; NaN-free: where the weights vanish it is 0
 */
export function weightedSmooth(value: Plane, weight: Plane, radius: number): Plane {
  const product = makePlane(value.width, value.height);
  for (let i = 0; i < product.data.length; i++) product.data[i] = value.data[i]! * weight.data[i]!;
  const top = tentSmooth(product, radius);
  const bottom = tentSmooth(weight, radius);
  const out = makePlane(value.width, value.height);
  for (let i = 0; i < out.data.length; i++) {
    const w = bottom.data[i]!;
    out.data[i] = w > 1e-4 ? top.data[i]! / w : 0;
  }
  return out;
}

function boxLine(src: Float32Array, dst: Float32Array, start: number, step: number, length: number, r: number): void {
  let sum = 0;
  for (let i = 0; i < Math.min(r, length); i++) sum += src[start + i * step]!;
  for (let i = 0; i < length; i++) {
    if (i + r < length) sum += src[start + (i + r) * step]!;
    if (i - r - 1 >= 0) sum -= src[start + (i - r - 1) * step]!;
    const count = Math.min(length - 1, i + r) - Math.max(0, i - r) + 1;
    dst[start + i * step] = sum / count;
  }
}

function boxColumns(src: Float32Array, dst: Float32Array, width: number, height: number, r: number): void {
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(r, height); y++) addRow(sums, src, y * width, 1);
  for (let y = 0; y < height; y++) {
    if (y + r < height) addRow(sums, src, (y + r) * width, 1);
    if (y - r - 1 >= 0) addRow(sums, src, (y - r - 1) * width, -1);
    const count = Math.min(height - 1, y + r) - Math.max(0, y - r) + 1;
    const o = y * width;
    for (let x = 0; x < width; x++) dst[o + x] = sums[x]! / count;
  }
}

function addRow(sums: Float64Array, src: Float32Array, offset: number, sign: number): void {
  for (let x = 0; x < sums.length; x++) sums[x] = sums[x]! + sign * src[offset + x]!;
}
