// Float planes back to integers.
import type { Kernels } from './memory';
import type { KernelPlanes } from './plane';
import type { PixelBlock } from './warpPixels';

/** Rounds and clamps the first three planes (0..1) to interleaved RGB of 8 or 16 bits. */
export function packPixels(kernels: Kernels, planes: KernelPlanes, bits: 8 | 16): PixelBlock {
  const { width, height } = planes;
  const n = width * height;
  return kernels.scope(() => {
    if (bits === 8) {
      const to = kernels.alloc(n * 3);
      kernels.run.packPlanar8(planes.ptr, n, to);
      return { width, height, data: kernels.u8(to, n * 3).slice() };
    }
    const to = kernels.alloc(n * 6);
    kernels.run.packPlanar16(planes.ptr, n, to);
    return { width, height, data: kernels.u16(to, n * 3).slice() };
  });
}
