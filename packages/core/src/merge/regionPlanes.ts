// What the blends share: sums by level that begin at nothing, and the inner part of a region read with a margin.
import type { Region } from '../image';
import { allocPlanes, planeView, type KernelPlanes, type Kernels } from '../kernels';

/** Planes of zeros at full, half, quarter … size in kernel memory: levels + 1 of them. */
export function clearPyramid(
  kernels: Kernels,
  width: number,
  height: number,
  levels: number,
  count: number,
): KernelPlanes[] {
  const out: KernelPlanes[] = [];
  for (let l = 0, w = width, h = height; l <= levels; l++, w = (w + 1) >> 1, h = (h + 1) >> 1) {
    const planes = allocPlanes(kernels, w, h, count);
    kernels.f32(planes.ptr, w * h * count).fill(0);
    out.push(planes);
  }
  return out;
}

/** Copies a region's R, G, B out of planes that cover a wider one. */
export function cutRegion(kernels: Kernels, from: KernelPlanes, wide: Region, to: KernelPlanes, region: Region): void {
  for (let c = 0; c < 3; c++) {
    const src = planeView(kernels, from, c);
    const dst = planeView(kernels, to, c);
    for (let y = 0; y < region.height; y++) {
      const at = (region.y - wide.y + y) * wide.width + region.x - wide.x;
      dst.set(src.subarray(at, at + region.width), y * region.width);
    }
  }
}
