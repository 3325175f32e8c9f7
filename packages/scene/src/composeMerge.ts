// A merge "made elsewhere": frames resampled by their true poses and mixed by a label map, as another program would.
import { linearToSrgb, srgbToLinear, type Similarity } from '@blendrak/core/image';
import { CELL, type CellGrid } from './cells';

/** A frame of the set as its file holds it. */
export interface SourceFrame {
  readonly pixels: Uint8Array | Uint16Array;
  /** Canonical px → frame px. */
  readonly toFrame: Similarity;
  /** Exposure gain to take out again. */
  readonly gain: number;
}

/** Which frame each cell takes, and by how many px the taken part is shifted (0 where nothing is misplaced). */
export interface LabelMap {
  readonly labels: Uint8Array;
  readonly shiftX?: Float32Array;
  readonly shiftY?: Float32Array;
}

/**
 * Mixes frames by labels with a feather of about one cell.
 * @param loadFrame called once per frame in order, so that one frame is in memory at a time
 * @returns one picture per label map: interleaved RGB floats, encoded, 0..1
 */
export async function composeMerges(
  width: number,
  height: number,
  grid: CellGrid,
  count: number,
  maps: readonly LabelMap[],
  loadFrame: (index: number) => SourceFrame | Promise<SourceFrame>,
): Promise<Float32Array[]> {
  const outs = maps.map(() => new Float32Array(width * height * 3));
  for (let k = 0; k < count; k++) {
    const frame = await loadFrame(k);
    const lut = ungainTable(frame);
    maps.forEach((map, m) => addFrame(outs[m]!, width, height, grid, map, k, frame, lut));
  }
  return outs;
}

function ungainTable(frame: SourceFrame): Float32Array {
  const n = frame.pixels instanceof Uint16Array ? 65536 : 256;
  return Float32Array.from({ length: n }, (_, i) => linearToSrgb(srgbToLinear(i / (n - 1)) / frame.gain));
}

function addFrame(
  out: Float32Array,
  width: number,
  height: number,
  grid: CellGrid,
  map: LabelMap,
  index: number,
  frame: SourceFrame,
  lut: Float32Array,
): void {
  const rgb = new Float32Array(3);
  for (let y = 0; y < height; y++) {
    const gy = Math.min(grid.height - 1.001, Math.max(0, (y + 0.5) / CELL - 0.5));
    const y0 = Math.floor(gy);
    const v = gy - y0;
    for (let x = 0; x < width; x++) {
      const gx = Math.min(grid.width - 1.001, Math.max(0, (x + 0.5) / CELL - 0.5));
      const x0 = Math.floor(gx);
      const u = gx - x0;
      const i = y0 * grid.width + x0;
      const j = i + grid.width;
      const weight =
        (map.labels[i] === index ? (1 - u) * (1 - v) : 0) +
        (map.labels[i + 1] === index ? u * (1 - v) : 0) +
        (map.labels[j] === index ? (1 - u) * v : 0) +
        (map.labels[j + 1] === index ? u * v : 0);
      if (weight === 0) continue;
      const nearest = (v < 0.5 ? i : j) + (u < 0.5 ? 0 : 1);
      const px = x + 0.5 + (map.shiftX?.[nearest] ?? 0);
      const py = y + 0.5 + (map.shiftY?.[nearest] ?? 0);
      sampleCubic(frame, lut, width, height, px, py, rgb);
      const to = (y * width + x) * 3;
      out[to]! += weight * rgb[0]!;
      out[to + 1]! += weight * rgb[1]!;
      out[to + 2]! += weight * rgb[2]!;
    }
  }
}

function sampleCubic(
  frame: SourceFrame,
  lut: Float32Array,
  width: number,
  height: number,
  px: number,
  py: number,
  rgb: Float32Array,
): void {
  const { re, im, tx, ty } = frame.toFrame;
  const sx = re * px - im * py + tx - 0.5;
  const sy = im * px + re * py + ty - 0.5;
  const ix = Math.floor(sx);
  const iy = Math.floor(sy);
  const t = sx - ix;
  const u = sy - iy;
  const wx0 = ((-0.5 * t + 1) * t - 0.5) * t;
  const wx1 = (1.5 * t - 2.5) * t * t + 1;
  const wx3 = (0.5 * t - 0.5) * t * t;
  const wx2 = 1 - wx0 - wx1 - wx3;
  const wy0 = ((-0.5 * u + 1) * u - 0.5) * u;
  const wy1 = (1.5 * u - 2.5) * u * u + 1;
  const wy3 = (0.5 * u - 0.5) * u * u;
  const wy2 = 1 - wy0 - wy1 - wy3;
  let [r, g, b] = [0, 0, 0];
  for (let k = 0; k < 4; k++) {
    const wy = k === 0 ? wy0 : k === 1 ? wy1 : k === 2 ? wy2 : wy3;
    const row = Math.min(height - 1, Math.max(0, iy - 1 + k)) * width;
    for (let l = 0; l < 4; l++) {
      const w = wy * (l === 0 ? wx0 : l === 1 ? wx1 : l === 2 ? wx2 : wx3);
      const at = (row + Math.min(width - 1, Math.max(0, ix - 1 + l))) * 3;
      r += w * lut[frame.pixels[at]!]!;
      g += w * lut[frame.pixels[at + 1]!]!;
      b += w * lut[frame.pixels[at + 2]!]!;
    }
  }
  rgb[0] = r;
  rgb[1] = g;
  rgb[2] = b;
}
