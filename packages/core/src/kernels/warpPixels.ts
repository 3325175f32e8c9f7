// Integer pixels of one picture, resampled into another picture's geometry as float planes.
import { badParameter } from '../checks';
import type { Kernels } from './memory';
import { allocPlanes, type KernelPlanes } from './plane';

/** Interleaved RGB pixels of 8 or 16 bits. */
export interface PixelBlock {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint16Array;
}

/** Six numbers [a b c d e f]: x' = a·x + b·y + c, y' = d·x + e·y + f; pixel centres at .5. */
export type Affine = readonly [number, number, number, number, number, number];

/**
 * Looks integer pixels up in a tone table and resamples them with Keys' cubic kernel.
 * @param source interleaved RGB, at least 1 × 1
 * @param lut three tables after each other: 3 × 256 values for 8 bits, 3 × 65536 for 16
 * @param toSource maps destination pixel centres to source coordinates
 * @param width, height destination size in px
 * @returns four planes in kernel memory: R, G, B in 0..1 (ringing may overshoot) and valid (1 inside the source, else 0)
 * @throws ParameterError when table and pixels disagree
 * Cost: about 20 ns per destination pixel.
 */
export function warpPixels(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  toSource: Affine,
  width: number,
  height: number,
): KernelPlanes {
  const n = source.width * source.height;
  const wide = source.data instanceof Uint16Array;
  if (source.data.length !== n * 3)
    throw badParameter('warpPixels.source.data.length', `${n * 3} values`, source.data.length);
  if (lut.length !== (wide ? 3 * 65536 : 768)) {
    throw badParameter(
      'warpPixels.lut.length',
      wide ? '196608 values for 16 bits' : '768 values for 8 bits',
      lut.length,
    );
  }
  const out = allocPlanes(kernels, width, height, 4);
  kernels.scope(() => {
    const table = kernels.alloc(lut.length * 4);
    const raw = kernels.alloc(source.data.byteLength);
    const quads = kernels.alloc(n * 16);
    kernels.f32(table, lut.length).set(lut);
    if (wide) {
      kernels.u16(raw, n * 3).set(source.data);
      kernels.run.unpack16(raw, n, table, quads);
    } else {
      kernels.u8(raw, n * 3).set(source.data);
      kernels.run.unpack8(raw, n, table, quads);
    }
    kernels.run.warpCubic(quads, source.width, source.height, out.ptr, width, height, ...toSource);
  });
  return out;
}
