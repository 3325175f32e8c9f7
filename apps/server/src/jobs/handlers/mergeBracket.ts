// Tasks of a bracket's merge: small views, motion, the passes of exposure fusion, light, shares.
import { noiseAt, type Plane, type Region } from '@blendrak/core/image';
import { warpFrame, warpFrameLuma } from '@blendrak/core/frame';
import { packPixels, planeView, type KernelPlanes } from '@blendrak/core/kernels';
import {
  blendShares,
  findMotion,
  fuseBase,
  fuseExposures,
  mergeLight,
  reduceExposures,
  type BasePart,
  type ExposureBase,
  type LightFrame,
  type MotionMasks,
} from '@blendrak/core/merge';
import { threadKernels } from '../kernelHost';
import type { ExposedPicture, TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, tileFile } from '../sources';

export function smallLumaTask({
  frames,
  width,
  height,
  longSidePx,
}: TaskRequest<'smallLuma'>): TaskResponse<'smallLuma'> {
  const kernels = threadKernels();
  const scale = Math.max(1, Math.max(width, height) / longSidePx);
  const region = { x: 0, y: 0, width: Math.floor(width / scale), height: Math.floor(height / scale) };
  return frames.map((frame) => {
    const placed = placedFrame(frame);
    const luma: Plane = kernels.scope(() => {
      const data = planeView(kernels, warpFrameLuma(kernels, placed, region, scale)).slice();
      const valid = planeView(kernels, warpFrame(kernels, placed, region, scale), 3);
      for (let i = 0; i < data.length; i++) if (valid[i]! < 0.5) data[i] = -1;
      return { width: region.width, height: region.height, data };
    });
    // A px of the small view is a mean over scale² px.
    return { luma, noise: Math.sqrt(noiseAt(frame.noise, 0.4)) / scale };
  });
}

export function motionTask({ frames, reference }: TaskRequest<'motion'>): MotionMasks {
  return findMotion(frames, reference);
}

function exposed(frame: ExposedPicture): LightFrame {
  return { ...placedFrame(frame), share: frame.share, ev: frame.ev };
}

export function reduceExposuresTask({ frames, region, width, height }: TaskRequest<'reduceExposures'>): BasePart {
  return reduceExposures(threadKernels(), frames.map(exposed), region, width, height);
}

export function fuseBaseTask({ parts, width, height }: TaskRequest<'fuseBase'>): ExposureBase {
  return fuseBase(threadKernels(), parts, width, height);
}

/** Renders regions into a tile file. */
function render(
  out: string,
  regions: readonly Region[],
  part: (region: Region, w: number, h: number) => KernelPlanes,
): null {
  const kernels = threadKernels();
  const file = tileFile(out);
  for (const region of regions) {
    kernels.scope(() => {
      file.write(0, region.x, region.y, packPixels(kernels, part(region, file.width, file.height), 16));
    });
  }
  return null;
}

export function fuseExposuresTask({ frames, base, regions, out }: TaskRequest<'fuseExposures'>): null {
  const placed = frames.map(exposed);
  return render(out, regions, (region, w, h) => fuseExposures(threadKernels(), placed, base, region, w, h));
}

export function mergeLightTask({ frames, tone, regions, out }: TaskRequest<'mergeLight'>): null {
  const placed = frames.map(exposed);
  return render(out, regions, (region, w, h) => mergeLight(threadKernels(), placed, tone, region, w, h));
}

export function blendSharesTask({ frames, regions, out }: TaskRequest<'blendShares'>): null {
  const placed = frames.map(exposed);
  return render(out, regions, (region, w, h) => blendShares(threadKernels(), placed, region, w, h));
}
