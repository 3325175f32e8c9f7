// Task `nudge`: by how much a donor has to be moved to meet the merge around a mask.
import { LUMA_WEIGHTS, type Plane } from '@blendrak/core/image';
import { planeView, type KernelPlanes } from '@blendrak/core/kernels';
import { fieldBox, findNudge, layShape, renderRepair, shapeRegion, warpSource } from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame } from '../sources';

/** Pictures are compared so far around the mask, px. */
const AROUND_PX = 44;
/** Longer side at which they are, px. */
const LONG_SIDE = 700;

export function nudgeTask({ scene, donor, shape }: TaskRequest<'nudge'>): TaskResponse<'nudge'> {
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const frames = donorFrames(scene);
  const box = fieldBox(shapeRegion(shape), AROUND_PX);
  const scale = Math.max(1, Math.max(box.width, box.height) / LONG_SIDE);
  const region = {
    ...{ x: box.x / scale, y: box.y / scale },
    width: Math.round(box.width / scale),
    height: Math.round(box.height / scale),
  };
  const { width, height } = region;
  return kernels.scope(() => {
    const merge = renderRepair(kernels, base, frames, scene.operations, region, scale);
    const source = warpSource(kernels, frames[donor]!, undefined, region, scale);
    const luma = (planes: KernelPlanes): Plane => {
      const [r, g, b] = [0, 1, 2].map((c) => planeView(kernels, planes, c));
      const data = Float32Array.from(
        r!,
        (v, i) => LUMA_WEIGHTS[0] * v + LUMA_WEIGHTS[1] * g![i]! + LUMA_WEIGHTS[2] * b![i]!,
      );
      return { width, height, data };
    };
    const mask = new Float32Array(width * height);
    layShape(mask, region, shape, scale);
    const valid = planeView(kernels, source, 3);
    const around = Uint8Array.from(mask, (v, i) => {
      const [x, y] = [(region.x + (i % width) + 0.5) * scale, (region.y + Math.floor(i / width) + 0.5) * scale];
      const isPicture = x >= 0 && y >= 0 && x < base.source.width && y < base.source.height;
      return v === 0 && valid[i] && isPicture ? 1 : 0;
    });
    const found = findNudge(luma(merge), luma(source), around);
    return found && [found[0] * scale, found[1] * scale];
  });
}
