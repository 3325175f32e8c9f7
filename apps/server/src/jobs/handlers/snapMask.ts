// Task `snapMask`: an operation's mask laid to the edges of what it paints in.
import { planeView } from '@blendrak/core/kernels';
import { layShape, partsOf, shapeRegion, snapMask, warpSource } from '@blendrak/core/repair';
import { threadKernels } from '../kernelHost';
import type { TaskRequest, TaskResponse } from '../protocol';
import { donorFrames, plainFrame } from '../sources';

/** A rim laid to an edge fades by a px to either side of it, so that it leaves no steps. */
const RIM = [0.25, 0.5, 0.25] as const;

export function snapMaskTask({ scene, operation, reachPx, mostPx }: TaskRequest<'snapMask'>): TaskResponse<'snapMask'> {
  const { donor, shape, shift } = partsOf(operation)[0]!;
  const kernels = threadKernels();
  const base = plainFrame(scene.merge);
  const own = shapeRegion(shape);
  const margin = Math.ceil(reachPx) + RIM.length;
  const [left, top] = [Math.max(0, own.x - margin), Math.max(0, own.y - margin)];
  const region = {
    ...{ x: left, y: top },
    width: Math.min(base.source.width, own.x + own.width + margin) - left,
    height: Math.min(base.source.height, own.y + own.height + margin) - top,
  };
  if (Math.max(region.width, region.height) > mostPx) return 'too large';
  const { width, height } = region;
  const mask = new Float32Array(width * height);
  layShape(mask, region, shape);
  // What its strength weakens is no less of a mask.
  const strength = mask.reduce((most, v) => Math.max(most, v), 0);
  if (strength > 0) mask.forEach((v, i) => (mask[i] = v / strength));
  return kernels.scope(() => {
    const source = donor === null ? base : donorFrames(scene)[donor]!;
    const planes = warpSource(kernels, source, shift, region);
    const guide = [0, 1, 2].map((c) => planeView(kernels, planes, c));
    const snapped = snapMask(mask, guide, width, height, reachPx);
    const values = softened(softened(snapped, width, 1), width, width);
    return { values: Uint8Array.from(values, (v) => Math.round(255 * v)), region, strength };
  });
}

/** Weighed over neighbours along rows or columns. */
function softened(values: Float32Array, width: number, step: number): Float32Array {
  return values.map((v, i) => {
    const isFirst = step === 1 ? i % width === 0 : i < width;
    const isLast = step === 1 ? i % width === width - 1 : i + width >= values.length;
    return RIM[0] * (isFirst ? v : values[i - step]!) + RIM[1] * v + RIM[2] * (isLast ? v : values[i + step]!);
  });
}
