// A small focus stack in code: two depths with a hard edge between, blurred by their distance from focus.
import { IDENTITY_TONE, type Plane } from '../image';
import type { Kernels } from '../kernels';
import { addNoise, blockTexture, colourPixels, gaussianBlur, greyPixels } from './pictures';
import { blockSource } from './pixelSource';
import { type AlignedFrame, SAME_PLACE } from '../frame';

export const STACK_NOISE = 0.004;

/** Blur in px per step away from focus. */
const BLUR_PER_STEP = 1;

/** Planes of a series: depth `depthOf(x, y)` in frame steps (may be fractional); frame k is focused at `focus[k]`. */
export function blurredSeries(
  width: number,
  height: number,
  seed: number,
  depth: number,
  focus: readonly number[],
): Plane[] {
  const sharp = blockTexture(width, height, seed);
  return focus.map((f, k) =>
    addNoise(gaussianBlur(sharp, BLUR_PER_STEP * Math.abs(f - depth)), STACK_NOISE, seed * 100 + k),
  );
}

/** A picture as an aligned frame that lies exactly on the merge. */
export function frameOf(kernels: Kernels, plane: Plane): AlignedFrame {
  return {
    source: blockSource(kernels, greyPixels(plane), 1),
    geometry: SAME_PLACE,
    tone: IDENTITY_TONE,
    noise: new Array<number>(8).fill(STACK_NOISE ** 2),
  };
}

/** The same of a picture in colour. */
export function colourFrame(kernels: Kernels, planes: readonly [Plane, Plane, Plane]): AlignedFrame {
  return { ...frameOf(kernels, planes[1]), source: blockSource(kernels, colourPixels(planes), 1) };
}

/** Takes `patch` inside a rectangle and `base` outside. */
export function pasteRect(base: Plane, patch: Plane, x0: number, y0: number, width: number, height: number): Plane {
  const data = base.data.slice();
  for (let y = y0; y < y0 + height; y++) {
    data.set(patch.data.subarray(y * base.width + x0, y * base.width + x0 + width), y * base.width + x0);
  }
  return { ...base, data };
}

/**
 * Planes of a near half (left of `edgeX`, sharp in frame 0) before a far half (sharp in the last frame). The near half's
 * cover blurs with it, so its light spreads over the far half the more the further focus has moved away.
 */
export function occludedSeries(width: number, height: number, edgeX: number, seed: number, count: number): Plane[] {
  const near = blockTexture(width, height, seed).data.map((v) => 0.55 + 0.4 * v);
  const far = blockTexture(width, height, seed + 1).data.map((v) => 0.1 + 0.15 * v);
  const cover = Float32Array.from(near, (_, i) => (i % width < edgeX ? 1 : 0));
  const light = near.map((v, i) => v * cover[i]!);
  return Array.from({ length: count }, (_, k) => {
    const nearBlur = 1.5 * BLUR_PER_STEP * k;
    const spread = gaussianBlur({ width, height, data: light }, nearBlur).data;
    const open = gaussianBlur({ width, height, data: cover }, nearBlur).data;
    const back = gaussianBlur({ width, height, data: far }, BLUR_PER_STEP * (count - 1 - k)).data;
    const data = back.map((v, i) => spread[i]! + (1 - open[i]!) * v);
    return addNoise({ width, height, data }, STACK_NOISE, seed * 100 + k);
  });
}
