// The repaired picture, region by region: the merge with each stroke's donor painted in, in order.
import { warpFrame, type AlignedFrame } from '../align';
import type { Region } from '../image';
import { allocPlanes, blendMasked, planeView, type KernelPlanes, type Kernels } from '../kernels';
import { layStroke, strokeRegion, type Stroke } from './strokes';

/** A stroke and the frame it paints with. */
export interface RepairStroke extends Stroke {
  readonly frame: number;
}

/**
 * Renders a region of the repaired picture.
 * @param base the merge as a frame (identity transform and tone)
 * @param strokes in the order they were made
 * @param region in merge px divided by scale
 * @param scale merge px per result px, 1 or more
 * @returns planes R, G, B, valid in kernel memory
 * Cost: 60 ns per px for the base, as much again per donor that strokes touch here.
 */
export function renderRepair(
  kernels: Kernels,
  base: AlignedFrame,
  frames: readonly AlignedFrame[],
  strokes: readonly RepairStroke[],
  region: Region,
  scale = 1,
): KernelPlanes {
  const out = warpFrame(kernels, base, region, scale);
  const touching = strokes.filter((s) => touches(strokeRegion(s), region, scale));
  // Neighbouring strokes with the same donor share its resampled pixels.
  for (let i = 0; i < touching.length;) {
    const frame = touching[i]!.frame;
    let end = i;
    while (end < touching.length && touching[end]!.frame === frame) end++;
    const donor = frames[frame];
    const group = touching.slice(i, end);
    i = end;
    if (!donor) continue;
    kernels.scope(() => {
      const warped = warpFrame(kernels, donor, region, scale);
      for (const stroke of group) paint(kernels, out, warped, stroke, region, scale);
    });
  }
  return out;
}

/** The strokes' joint mask for one frame: where and how much of it shows, later strokes of other frames covering it. */
export function renderMask(frame: number, strokes: readonly RepairStroke[], region: Region, scale = 1): Float32Array {
  const total = new Float32Array(region.width * region.height);
  for (const stroke of strokes) {
    if (!touches(strokeRegion(stroke), region, scale)) continue;
    const mask = new Float32Array(total.length);
    layStroke(mask, region, stroke, scale);
    for (let i = 0; i < total.length; i++) {
      total[i] = stroke.frame === frame ? total[i]! + mask[i]! * (1 - total[i]!) : total[i]! * (1 - mask[i]!);
    }
  }
  return total;
}

function paint(
  kernels: Kernels,
  out: KernelPlanes,
  donor: KernelPlanes,
  stroke: Stroke,
  region: Region,
  scale: number,
): void {
  kernels.scope(() => {
    const mask = allocPlanes(kernels, region.width, region.height, 1);
    const view = planeView(kernels, mask);
    view.fill(0);
    layStroke(view, region, stroke, scale);
    const valid = planeView(kernels, donor, 3);
    for (let i = 0; i < view.length; i++) view[i] = view[i]! * valid[i]!;
    blendMasked(kernels, { ...out, count: 3 }, donor, mask);
  });
}

function touches(box: Region, region: Region, scale: number): boolean {
  return (
    box.x < (region.x + region.width) * scale &&
    box.y < (region.y + region.height) * scale &&
    box.x + box.width > region.x * scale &&
    box.y + box.height > region.y * scale
  );
}
