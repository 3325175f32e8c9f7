// Task `toneField`: what brings a donor's tone to what surrounds a mask.
import { planeView, type KernelPlanes } from '@blendrak/core/kernels';
import { fieldBox, fitToneField, layShape, renderRepair, shapeRegion, warpSource } from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { placedFrame, plainFrame } from '../sources';
import { areaOf } from './areaOf';

/** Longer side at which tones are compared, px: they change slowly. */
const LONG_SIDE = 320;

export function toneFieldTask({
  scene,
  donor,
  shape,
  shift,
  apart = [],
  marginPx = 0,
}: TaskRequest<'toneField'>): TaskResponse<'toneField'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = scene.frames.map(placedFrame);
  const box = fieldBox(shapeRegion(shape), marginPx);
  const scale = Math.max(1, Math.max(box.width, box.height) / LONG_SIDE);
  const region = {
    x: box.x / scale,
    y: box.y / scale,
    width: Math.max(2, Math.round(box.width / scale)),
    height: Math.max(2, Math.round(box.height / scale)),
  };
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const from = donor === null ? base : frames[donor]!;
    const source = warpSource(kernels, from, shift, region, scale);
    const mask = new Float32Array(region.width * region.height);
    layShape(mask, region, shape, scale);
    // Beyond the picture's edge the merge repeats itself: nothing is compared there.
    const views = (planes: KernelPlanes, count: number) =>
      Array.from({ length: count }, (_, c) => planeView(kernels, planes, c));
    const wrong = areaOf(apart, region, scale);
    const valid = Float32Array.from(planeView(kernels, source, 3), (v, i) => {
      if (wrong[i]) return 0;
      const x = (region.x + (i % region.width) + 0.5) * scale;
      const y = (region.y + Math.floor(i / region.width) + 0.5) * scale;
      return x >= 0 && y >= 0 && x < base.source.width && y < base.source.height ? v : 0;
    });
    const field = fitToneField(views(merge, 3), [...views(source, 3), valid], mask, region);
    return field && { ...field, ...(marginPx > 0 && { marginPx }) };
  });
}
