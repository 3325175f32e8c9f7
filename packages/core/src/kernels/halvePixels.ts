// The next smaller level of a tile pyramid.
import type { Kernels } from './memory';
import type { PixelBlock } from './warpPixels';

/** Averages 2 × 2 blocks of interleaved RGB; the result is ⌈w/2⌉ × ⌈h/2⌉ of the same depth. */
export function halvePixels(kernels: Kernels, source: PixelBlock): PixelBlock {
  const width = (source.width + 1) >> 1;
  const height = (source.height + 1) >> 1;
  return kernels.scope(() => {
    const from = kernels.alloc(source.data.byteLength);
    const length = width * height * 3;
    if (source.data instanceof Uint16Array) {
      const to = kernels.alloc(length * 2);
      kernels.u16(from, source.data.length).set(source.data);
      kernels.run.halve16(from, source.width, source.height, to);
      return { width, height, data: kernels.u16(to, length).slice() };
    }
    const to = kernels.alloc(length);
    kernels.u8(from, source.data.length).set(source.data);
    kernels.run.halve8(from, source.width, source.height, to);
    return { width, height, data: kernels.u8(to, length).slice() };
  });
}
