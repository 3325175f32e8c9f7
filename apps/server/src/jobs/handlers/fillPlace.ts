// Task `findFill`: from how far away of the merge itself a place is best filled.
import type { Region } from '@blendrak/core/image';
import { planeView } from '@blendrak/core/kernels';
import { findFill, layShape, renderRepair, shapeRegion } from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame } from '../sources';
import { areaOf } from './areaOf';

/** What a place may be filled from lies within so many times its shorter side, and within these px. */
const TIMES = 4;
const [NEAREST_PX, FARTHEST_PX] = [60, 320];
/** Side of the picture in which is searched, px: structure that fits at this size fits. */
const MOST_SIDE = 420;
/** Mask above which a px is filled. */
const FILLED = 0.02;

export function findFillTask({ scene, shape, apart }: TaskRequest<'findFill'>): TaskResponse<'findFill'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const box = shapeRegion(shape);
  const reachPx = Math.min(FARTHEST_PX, Math.max(NEAREST_PX, TIMES * Math.min(box.width, box.height)));
  const wide: Region = {
    x: box.x - reachPx,
    y: box.y - reachPx,
    width: box.width + 2 * reachPx,
    height: box.height + 2 * reachPx,
  };
  const scale = Math.max(1, Math.max(wide.width, wide.height) / MOST_SIDE);
  const region: Region = {
    x: wide.x / scale,
    y: wide.y / scale,
    width: Math.ceil(wide.width / scale),
    height: Math.ceil(wide.height / scale),
  };
  const { width, height } = region;
  const soft = new Float32Array(width * height);
  layShape(soft, region, shape, scale);
  const mask = Uint8Array.from(soft, (v) => (v > FILLED ? 1 : 0));
  const blocked = areaOf(apart, region, scale);
  const usable = Uint8Array.from(mask, (filled, i) => {
    const x = (region.x + (i % width) + 0.5) * scale;
    const y = (region.y + Math.floor(i / width) + 0.5) * scale;
    const isPicture = x >= 1 && y >= 1 && x < base.source.width - 1 && y < base.source.height - 1;
    return isPicture && !filled && !blocked[i] ? 1 : 0;
  });
  // What lies beyond the picture's edge is not seen: only what is seen has to be filled.
  const seen = Uint8Array.from(mask, (filled, i) => {
    const x = (region.x + (i % width) + 0.5) * scale;
    const y = (region.y + Math.floor(i / width) + 0.5) * scale;
    return filled && x >= 0 && y >= 0 && x < base.source.width && y < base.source.height ? 1 : 0;
  });
  return kernels.scope(() => {
    const picture = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const planes = [0, 1, 2].map((c) => planeView(kernels, picture, c).slice());
    const found = findFill({ width, height, planes, usable }, seen, Math.floor(reachPx / scale));
    return found && [Math.round(found[0] * scale), Math.round(found[1] * scale)];
  });
}
