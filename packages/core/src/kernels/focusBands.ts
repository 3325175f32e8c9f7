// The focus bands: energy of undecimated wavelet details of luma, on a grid of 4 × 4 px cells.
import { badParameter } from '../checks';
import type { Kernels } from './memory';
import { allocPlanes, type KernelPlanes } from './plane';

/** Side of a grid cell in px. */
export const CELL_PX = 4;

/** Gains of the three detail bands for white noise: energy of band j = gain × noise variance (closed form, 2-D). */
export const BAND_NOISE_GAIN: readonly [number, number, number] = noiseGains();

/** Luma (Rec. 709 weights on encoded values) of the first three planes, as a plane in kernel memory. */
export function lumaOf(kernels: Kernels, rgb: KernelPlanes): KernelPlanes {
  const out = allocPlanes(kernels, rgb.width, rgb.height);
  kernels.run.luma(rgb.ptr, rgb.width * rgb.height, out.ptr);
  return out;
}

/**
 * Splits luma into details at about 1, 2 and 4 px (à trous, [1 2 1]/4 filter) and averages their squares per cell.
 * @param luma one plane, width and height multiples of 4
 * @returns three planes of width/4 × height/4: mean energy of the fine, middle and coarse details
 * @throws ParameterError when the size is no multiple of 4
 * Cost: about 8 ns per pixel. Source: M. J. Shensa, IEEE Trans. Signal Processing 40(10), 1992 (à trous algorithm).
 */
export function focusBands(kernels: Kernels, luma: KernelPlanes): KernelPlanes {
  const { width, height } = luma;
  if (width % CELL_PX || height % CELL_PX)
    throw badParameter('focusBands.luma.size', 'multiples of 4 px', [width, height]);
  const bands = allocPlanes(kernels, width / CELL_PX, height / CELL_PX, 3);
  const cells = bands.width * bands.height;
  kernels.scope(() => {
    const y = luma.ptr;
    const [p1, p2, p3, tmp] = [0, 1, 2, 3].map(() => kernels.alloc(width * height * 4)) as [
      number,
      number,
      number,
      number,
    ];
    kernels.run.binomial(y, p1, tmp, width, height, 1);
    kernels.run.binomial(p1, p2, tmp, width, height, 2);
    kernels.run.binomial(p2, p3, tmp, width, height, 4);
    kernels.run.squaredDifference4(y, p1, width, height, bands.ptr);
    kernels.run.squaredDifference4(p1, p2, width, height, bands.ptr + cells * 4);
    kernels.run.squaredDifference4(p2, p3, width, height, bands.ptr + cells * 8);
  });
  return bands;
}

function noiseGains(): [number, number, number] {
  // Impulse responses of the separable filters in one dimension; the 2-D energy of P − Q is |P|⁴-style products:
  // Σ(p⊗p − q⊗q)² = (Σp²)² − 2(Σpq)² + (Σq²)².
  const delta = [1];
  const p1 = convolve(delta, 1);
  const p2 = convolve(p1, 2);
  const p3 = convolve(p2, 4);
  return [gain(delta, p1), gain(p1, p2), gain(p2, p3)];
}

function convolve(signal: readonly number[], step: number): number[] {
  const out = new Array<number>(signal.length + 2 * step).fill(0);
  signal.forEach((v, i) => {
    out[i] = (out[i] ?? 0) + 0.25 * v;
    out[i + step] = (out[i + step] ?? 0) + 0.5 * v;
    out[i + 2 * step] = (out[i + 2 * step] ?? 0) + 0.25 * v;
  });
  return out;
}

function gain(p: readonly number[], q: readonly number[]): number {
  const offset = (q.length - p.length) / 2;
  const pp = p.reduce((s, v) => s + v * v, 0);
  const qq = q.reduce((s, v) => s + v * v, 0);
  const pq = p.reduce((s, v, i) => s + v * (q[i + offset] ?? 0), 0);
  return pp * pp - 2 * pq * pq + qq * qq;
}
