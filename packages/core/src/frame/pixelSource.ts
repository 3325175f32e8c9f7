// Pixels of a picture on demand, and the tables that tone them.
import { growRegion, toneLut, type Region, type ToneCurve } from '../image';
import { halvePixels, type Kernels, type PixelBlock } from '../kernels';

/** A picture whose pixels are read by region; level l is 2^l times smaller than the full picture. */
export interface PixelSource {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  /** Number of levels, 1 or more. */
  readonly levels: number;
  /** Reads a region of a level; it lies within the level. */
  read(level: number, region: Region): PixelBlock;
}

const LUTS = new WeakMap<ToneCurve, Map<number, Float32Array>>();

/** The table of a tone curve, made once. */
export function lutOf(tone: ToneCurve, bits: 8 | 16): Float32Array {
  const perBits = LUTS.get(tone) ?? new Map<number, Float32Array>();
  LUTS.set(tone, perBits);
  const lut = perBits.get(bits) ?? toneLut(tone, bits);
  perBits.set(bits, lut);
  return lut;
}

/** The level whose pixels are no finer than half the sampling pitch, so that nothing aliases. */
export function levelFor(samplePitch: number): number {
  return Math.max(0, Math.floor(Math.log2(samplePitch) + 0.2));
}

/** A region of a level; one that the source does not hold is made from the next finer one. */
export function readLevel(kernels: Kernels, source: PixelSource, level: number, region: Region): PixelBlock {
  if (level < source.levels) return source.read(level, region);
  const factor = 2 ** (level - 1);
  const width = Math.ceil(source.width / factor);
  const height = Math.ceil(source.height / factor);
  const finer = growRegion(
    { x: 2 * region.x, y: 2 * region.y, width: 2 * region.width, height: 2 * region.height },
    0,
    width,
    height,
  );
  return halvePixels(kernels, readLevel(kernels, source, level - 1, finer));
}
