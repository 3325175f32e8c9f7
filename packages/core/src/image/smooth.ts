// Smoothing of small planes (cell grids, previews) by running sums.
import { badParameter } from '../checks';
import { makePlane, type Plane } from './raster';

/**
 * Mean over a (2r+1)² window; at the border over the part inside.
 * @param plane any size
 * @param radius in samples, 0 or more
 * @throws ParameterError for a radius that is no whole number of samples
 * Cost: independent of the radius.
 */
export function boxSmooth(plane: Plane, radius: number): Plane {
  if (!(radius >= 0 && Number.isInteger(radius)))
    throw badParameter('boxSmooth.radius', 'a whole number of samples, 0 or more', radius);
  if (radius === 0) return plane;
  const { width, height, data } = plane;
  const rows = makePlane(width, height);
  boxRows(data, rows.data, width, height, radius);
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

/** One over the number of samples within `radius` of each position on a line. */
function sharesOf(length: number, radius: number): Float64Array {
  const out = new Float64Array(length);
  for (let i = 0; i < length; i++) {
    out[i] = 1 / (Math.min(length - 1, i + radius) - Math.max(0, i - radius) + 1);
  }
  return out;
}

function boxRows(src: Float32Array, dst: Float32Array, width: number, height: number, r: number): void {
  const share = sharesOf(width, r);
  const bodyFrom = Math.min(width, r + 1);
  const bodyTo = Math.max(bodyFrom, width - r);
  for (let y = 0; y < height; y++) {
    const o = y * width;
    let sum = 0;
    for (let x = 0; x < r && x < width; x++) sum += src[o + x]!;
    for (let x = 0; x < bodyFrom; x++) {
      if (x + r < width) sum += src[o + x + r]!;
      dst[o + x] = sum * share[x]!;
    }
    for (let x = bodyFrom; x < bodyTo; x++) {
      sum += src[o + x + r]! - src[o + x - r - 1]!;
      dst[o + x] = sum * share[x]!;
    }
    for (let x = bodyTo; x < width; x++) {
      sum -= src[o + x - r - 1]!;
      dst[o + x] = sum * share[x]!;
    }
  }
}

function boxColumns(src: Float32Array, dst: Float32Array, width: number, height: number, r: number): void {
  const share = sharesOf(height, r);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(r, height); y++) {
    const o = y * width;
    for (let x = 0; x < width; x++) sums[x]! += src[o + x]!;
  }
  for (let y = 0; y < height; y++) {
    const o = y * width;
    const enter = (y + r) * width;
    const leave = (y - r - 1) * width;
    const s = share[y]!;
    if (y + r < height && leave >= 0) {
      for (let x = 0; x < width; x++) {
        const v = sums[x]! + src[enter + x]! - src[leave + x]!;
        sums[x] = v;
        dst[o + x] = v * s;
      }
      continue;
    }
    for (let x = 0; x < width; x++) {
      let v = sums[x]!;
      if (y + r < height) v += src[enter + x]!;
      if (leave >= 0) v -= src[leave + x]!;
      sums[x] = v;
      dst[o + x] = v * s;
    }
  }
}
