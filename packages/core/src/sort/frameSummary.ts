// What sorting knows of a frame's picture: a small view of its light, its colour, and how sharp it is where.
import { badParameter } from '../checks';
import { quantile, srgbToLinear } from '../image';
import { lateralColour } from './lateralColour';

/** A frame seen small. Light is in EV (log2 of linear light), so that exposures differ by a constant. */
export interface FrameSummary {
  /** Size of the small view, longer side `SMALL_PX`. */
  readonly width: number;
  readonly height: number;
  readonly light: Float32Array;
  /** 1 where the light is clipped neither in the highlights nor in the shadows. */
  readonly valid: Uint8Array;
  /** Linear red, green and blue of the small view, 0..1. */
  readonly rgb: readonly [Float32Array, Float32Array, Float32Array];
  /** Energy of detail per cell, at the finest scale and at four times that. */
  readonly detail: {
    readonly columns: number;
    readonly rows: number;
    readonly fine: Float32Array;
    readonly coarse: Float32Array;
  };
  /**
   * Finest detail against coarser along 0°, 45°, 90° and 135°, where the frame is sharpest in that direction: shake takes it
   * from one direction everywhere, focus from all directions in some places.
   */
  readonly along: readonly number[];
  /** See lateralColour: how much larger red and blue are drawn than green. */
  readonly lateral: readonly [red: number, blue: number];
}

export const SMALL_PX = 128;
const CELLS_ACROSS = 32;
const HIGHLIGHT_CLIPPED = 0.96;
const SHADOW_CLIPPED = 0.0025;
const COARSE_STEP = 4;
const DIRECTIONS = [
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
] as const;

let curve: Float32Array | null = null;

/** Linear light of an 8-bit sRGB code. */
function codes(): Float32Array {
  curve ??= Float32Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));
  return curve;
}

/**
 * Summarises a frame.
 * @param rgb interleaved 8-bit sRGB codes; a reduced decode of 512 to 2048 px does
 * @throws when the size does not fit the data
 * Cost: linear in pixels.
 */
export function summariseFrame(rgb: Uint8Array, width: number, height: number): FrameSummary {
  if (!(width >= 8 && height >= 8 && rgb.length === width * height * 3))
    throw badParameter(
      'summariseFrame.rgb',
      `3 codes for each of ${width} × ${height} px, 8 px a side or more`,
      rgb.length,
    );
  return {
    ...shrink(rgb, width, height),
    ...measureDetail(rgb, width, height),
    lateral: lateralColour(rgb, width, height),
  };
}

/** Mean linear light of the blocks of the small view. */
function shrink(rgb: Uint8Array, width: number, height: number): Omit<FrameSummary, 'detail' | 'along' | 'lateral'> {
  const scale = Math.min(1, SMALL_PX / Math.max(width, height));
  const w = Math.max(8, Math.round(width * scale));
  const h = Math.max(8, Math.round(height * scale));
  const n = w * h;
  const sums = [new Float32Array(n), new Float32Array(n), new Float32Array(n)] as const;
  const count = new Float32Array(n);
  const linear = codes();
  const column = Int32Array.from({ length: width }, (_, x) => Math.floor((x * w) / width));
  for (let y = 0; y < height; y++) {
    const row = Math.floor((y * h) / height) * w;
    for (let x = 0; x < width; x++) {
      const at = row + column[x]!;
      const i = 3 * (y * width + x);
      sums[0][at] = sums[0][at]! + linear[rgb[i]!]!;
      sums[1][at] = sums[1][at]! + linear[rgb[i + 1]!]!;
      sums[2][at] = sums[2][at]! + linear[rgb[i + 2]!]!;
      count[at] = count[at]! + 1;
    }
  }
  const light = new Float32Array(n);
  const valid = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    for (const plane of sums) plane[i] = plane[i]! / count[i]!;
    const luma = 0.2126 * sums[0][i]! + 0.7152 * sums[1][i]! + 0.0722 * sums[2][i]!;
    const top = Math.max(sums[0][i]!, sums[1][i]!, sums[2][i]!);
    light[i] = Math.log2(Math.max(luma, SHADOW_CLIPPED));
    valid[i] = top > HIGHLIGHT_CLIPPED || luma < SHADOW_CLIPPED * 1.5 ? 0 : 1;
  }
  return { width: w, height: h, light, valid, rgb: sums };
}

function measureDetail(rgb: Uint8Array, width: number, height: number): Pick<FrameSummary, 'detail' | 'along'> {
  const luma = new Float32Array(width * height);
  for (let i = 0, k = 0; i < luma.length; i++, k += 3)
    luma[i] = 0.2126 * rgb[k]! + 0.7152 * rgb[k + 1]! + 0.0722 * rgb[k + 2]!;
  const cell = Math.max(8, Math.ceil(Math.max(width, height) / CELLS_ACROSS));
  const columns = Math.ceil(width / cell);
  const rows = Math.ceil(height / cell);
  const fine = new Float32Array(columns * rows);
  const coarse = new Float32Array(columns * rows);
  const finest = DIRECTIONS.map(([dx, dy]) => {
    const offset = dy * width + dx;
    const energy = cellEnergy(luma, width, height, cell, offset);
    energy.forEach((v, c) => (fine[c] = fine[c]! + v));
    cellEnergy(luma, width, height, cell, COARSE_STEP * offset).forEach((v, c) => (coarse[c] = coarse[c]! + v));
    return energy;
  });
  // Against the coarser detail of all directions: a long shake takes that of its own direction, too.
  const along = finest.map((energy) => sharpestRatio(energy, coarse));
  return { detail: { columns, rows, fine, coarse }, along };
}

/** Energy of second differences at an offset, summed per cell; a rim of the coarse step is left out. */
function cellEnergy(luma: Float32Array, width: number, height: number, cell: number, offset: number): Float32Array {
  const columns = Math.ceil(width / cell);
  const out = new Float32Array(columns * Math.ceil(height / cell));
  for (let y = COARSE_STEP; y < height - COARSE_STEP; y++) {
    const base = Math.floor(y / cell) * columns;
    for (let column = 0; column < columns; column++) {
      const last = y * width + Math.min(width - COARSE_STEP, (column + 1) * cell);
      let energy = 0;
      for (let i = y * width + Math.max(COARSE_STEP, column * cell); i < last; i++) {
        const d = 2 * luma[i]! - luma[i - offset]! - luma[i + offset]!;
        energy += d * d;
      }
      out[base + column] = out[base + column]! + energy;
    }
  }
  return out;
}

/** Ratio of finest to coarser detail that one cell in four exceeds, among cells of strong detail: in weak ones noise is finest. */
function sharpestRatio(fine: Float32Array, coarse: Float32Array): number {
  const least = coarse.reduce((m, v) => Math.max(m, v), 0) * 0.15;
  const ratios: number[] = [];
  coarse.forEach((v, c) => {
    if (v > least) ratios.push(fine[c]! / v);
  });
  return ratios.length === 0 ? 0 : quantile(ratios, 0.75);
}
