// Frames mixed by given shares: straight gradients, and masks that a person drew.
import { badParameter } from '../checks';
import { warpFrame } from '../frame';
import type { Plane, Region } from '../image';
import { allocPlanes, planeView, type KernelPlanes, type Kernels } from '../kernels';
import { sharesIn, type ExposureFrame } from './fuseExposures';

/**
 * Blends frames by given shares.
 * @param frames with their shares; null counts as 1
 * @returns R, G, B planes in kernel memory: the mean of the frames that have picture, by share
 * Cost: about 60 ns per px and frame.
 */
export function blendShares(
  kernels: Kernels,
  frames: readonly ExposureFrame[],
  region: Region,
  width: number,
  height: number,
): KernelPlanes {
  const n = region.width * region.height;
  const out = allocPlanes(kernels, region.width, region.height, 3);
  const sums = [0, 1, 2].map(() => new Float32Array(n));
  const total = new Float32Array(n);
  for (const frame of frames) {
    kernels.scope(() => {
      const planes = warpFrame(kernels, frame, region);
      const valid = planeView(kernels, planes, 3);
      const share = frame.share && sharesIn(frame.share, region, width, height);
      const [r, g, b] = [0, 1, 2].map((c) => planeView(kernels, planes, c)) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      const [sr, sg, sb] = sums as [Float32Array, Float32Array, Float32Array];
      for (let i = 0; i < n; i++) {
        // A whisper everywhere: where the frames with a share have no picture, another one fills in.
        const w = valid[i]! * ((share ? share[i]! : 1) + 1e-6);
        sr[i]! += w * r[i]!;
        sg[i]! += w * g[i]!;
        sb[i]! += w * b[i]!;
        total[i]! += w;
      }
    });
  }
  for (let c = 0; c < 3; c++) {
    const to = planeView(kernels, out, c);
    for (let i = 0; i < n; i++) to[i] = total[i]! > 0 ? sums[c]![i]! / total[i]! : 0;
  }
  return out;
}

/** A straight gradient: from one frame to the next across a line. */
export interface Gradient {
  /** A point of the line, as shares of the merge's width and height. */
  readonly x: number;
  readonly y: number;
  /** Direction in which the next frame takes over, degrees from right, clockwise. */
  readonly angleDeg: number;
  /** Width over which it does, as a share of the merge's longer side. */
  readonly width: number;
}

/**
 * Shares of frames along gradients, one fewer than frames: the first frame lies before the first line.
 * @param columns, rows of the grid
 * @throws ParameterError when the numbers do not fit, or a gradient has no width
 */
export function gradientShares(
  gradients: readonly Gradient[],
  frames: number,
  width: number,
  height: number,
  columns: number,
  rows: number,
): Plane[] {
  if (gradients.length !== frames - 1)
    throw badParameter('gradientShares.gradients.length', `${frames - 1} for ${frames} frames`, gradients.length);
  const long = Math.max(width, height);
  const past = gradients.map((g, n) => {
    if (!(g.width > 0)) throw badParameter(`gradientShares.gradients.${n}.width`, 'a share above 0', g.width);
    const angle = (g.angleDeg * Math.PI) / 180;
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
    return Float32Array.from({ length: columns * rows }, (_, i) => {
      const px = (((i % columns) + 0.5) / columns) * width - g.x * width;
      const py = ((Math.floor(i / columns) + 0.5) / rows) * height - g.y * height;
      const t = Math.min(1, Math.max(0, (px * dx + py * dy) / (g.width * long) + 0.5));
      return t * t * (3 - 2 * t);
    });
  });
  return Array.from({ length: frames }, (_, k) => ({
    width: columns,
    height: rows,
    data: Float32Array.from({ length: columns * rows }, (__, i) => {
      const begun = k === 0 ? 1 : past[k - 1]![i]!;
      const left = k === frames - 1 ? 0 : past[k]![i]!;
      return begun * (1 - left);
    }),
  }));
}
