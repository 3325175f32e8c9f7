// Pixel sources over plain arrays, for tests and benchmarks.
import { halvePixels, type Kernels, type PixelBlock } from '../kernels';
import type { PixelSource } from '../frame';

/** Wraps a block of pixels as a source with a pyramid of `levels`. */
export function blockSource(kernels: Kernels, block: PixelBlock, levels = 1): PixelSource {
  const pyramid = [block];
  while (pyramid.length < levels) pyramid.push(halvePixels(kernels, pyramid[pyramid.length - 1]!));
  return {
    width: block.width,
    height: block.height,
    bits: block.data instanceof Uint16Array ? 16 : 8,
    levels,
    read(level, region) {
      const from = pyramid[level]!;
      const out =
        from.data instanceof Uint16Array
          ? new Uint16Array(region.width * region.height * 3)
          : new Uint8Array(region.width * region.height * 3);
      for (let y = 0; y < region.height; y++) {
        const at = ((region.y + y) * from.width + region.x) * 3;
        out.set(from.data.subarray(at, at + region.width * 3), y * region.width * 3);
      }
      return { width: region.width, height: region.height, data: out };
    },
  };
}
