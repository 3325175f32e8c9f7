// Integer pixels of one picture, resampled into another picture's geometry as float planes.
import { badParameter } from '../checks';
import type { Kernels } from './memory';
import { allocPlanes, planeView, type KernelPlanes } from './plane';

/** Interleaved RGB pixels of 8 or 16 bits. */
export interface PixelBlock {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint16Array;
}

/** Six numbers [a b c d e f]: x' = a·x + b·y + c, y' = d·x + e·y + f; pixel centres at .5. */
export type Affine = readonly [number, number, number, number, number, number];

/**
 * Looks integer pixels up in a tone table and resamples them with Lanczos' kernel of six taps.
 * @param source interleaved RGB, at least 1 × 1
 * @param lut three tables after each other: 3 × 256 values for 8 bits, 3 × 65536 for 16
 * @param toSource maps destination pixel centres to source coordinates
 * @param width, height destination size in px
 * @returns four planes in kernel memory: R, G, B in 0..1 (ringing may overshoot) and valid (1 inside the source, else 0)
 * @throws ParameterError when table and pixels disagree
 * Cost: about 70 ns per destination pixel, 5 for a plain cut.
 */
export function warpPixels(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  toSource: Affine,
  width: number,
  height: number,
): KernelPlanes {
  checkTable('warpPixels', source, lut);
  const n = source.width * source.height;
  const out = allocPlanes(kernels, width, height, 4);
  const corner = cutCorner(source, toSource, width, height);
  if (corner) {
    lookUp(kernels, source, lut, corner, out);
    return out;
  }
  kernels.scope(() => {
    const quads = kernels.alloc(n * 16);
    unpackInto(kernels, source, lut, quads, kernels.run.unpack8, kernels.run.unpack16);
    kernels.run.warpFine(quads, source.width, source.height, out.ptr, width, height, ...toSource);
  });
  return out;
}

/** Pixels between the nodes of a warp grid. */
export const GRID_PX = 16;

/** Nodes of a warp grid across or down a result of `sizePx`. */
export function gridNodes(sizePx: number): number {
  return Math.ceil(sizePx / GRID_PX) + 1;
}

/**
 * Like `warpPixels` for maps that are not affine.
 * @param grid per node x, y (source px) and lift, row by row; the node (i, j) stands at result px (16·i, 16·j), gridNodes() of them across
 * and down; bilinear between. Lift multiplies v + 0.055, which is light^(1/2.4) of sRGB above its toe; 1 changes nothing.
 * @returns four planes in kernel memory: R, G, B and valid
 * @throws ParameterError when table, grid and pixels disagree
 * Cost: about 75 ns per destination pixel.
 */
export function warpPixelsByGrid(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  grid: Float32Array,
  width: number,
  height: number,
): KernelPlanes {
  checkTable('warpPixelsByGrid', source, lut);
  const values = 3 * gridNodes(width) * gridNodes(height);
  if (grid.length !== values) throw badParameter('warpPixelsByGrid.grid.length', `${values} values`, grid.length);
  const out = allocPlanes(kernels, width, height, 4);
  kernels.scope(() => {
    const nodes = kernels.alloc(values * 4);
    const quads = kernels.alloc(source.width * source.height * 16);
    unpackInto(kernels, source, lut, quads, kernels.run.unpack8, kernels.run.unpack16);
    kernels.f32(nodes, values).set(grid);
    kernels.run.warpGrid(quads, source.width, source.height, out.ptr, width, height, nodes);
  });
  return out;
}

/** Where the result's corner lies in the source, when it is a plain cut of it: there every weight of the kernel is 0 or 1. */
function cutCorner(
  source: PixelBlock,
  [a, b, c, d, e, f]: Affine,
  width: number,
  height: number,
): [number, number] | null {
  const plain = a === 1 && b === 0 && d === 0 && e === 1 && Number.isInteger(c) && Number.isInteger(f);
  const inside = c >= 0 && f >= 0 && c + width <= source.width && f + height <= source.height;
  return plain && inside ? [c, f] : null;
}

function lookUp(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  [left, top]: [number, number],
  out: KernelPlanes,
): void {
  const levels = lut.length / 3;
  const planes = [0, 1, 2].map((c) => planeView(kernels, out, c)) as [Float32Array, Float32Array, Float32Array];
  const [red, green, blue] = planes;
  for (let y = 0; y < out.height; y++) {
    let from = ((top + y) * source.width + left) * 3;
    for (let i = y * out.width; i < (y + 1) * out.width; i++) {
      red[i] = lut[source.data[from]!]!;
      green[i] = lut[levels + source.data[from + 1]!]!;
      blue[i] = lut[2 * levels + source.data[from + 2]!]!;
      from += 3;
    }
  }
  planeView(kernels, out, 3).fill(1);
}

const LUMA_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;
const LUMA_TABLES = new WeakMap<Float32Array, Float32Array>();

/**
 * Like `warpPixels` for luma alone (Rec. 709 weights on encoded values), with Keys' cubic kernel: for comparing, not for showing.
 * @returns one plane in kernel memory; edges repeated outside the source
 * @throws ParameterError when table and pixels disagree
 * Cost: about 20 ns per destination pixel.
 */
export function warpLuma(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  toSource: Affine,
  width: number,
  height: number,
): KernelPlanes {
  checkTable('warpLuma', source, lut);
  const n = source.width * source.height;
  const out = allocPlanes(kernels, width, height);
  kernels.scope(() => {
    const plane = kernels.alloc(n * 4);
    unpackInto(kernels, source, lumaTable(lut), plane, kernels.run.unpackLuma8, kernels.run.unpackLuma16);
    kernels.run.warpPlane(plane, source.width, source.height, out.ptr, width, height, ...toSource);
  });
  return out;
}

function checkTable(name: string, source: PixelBlock, lut: Float32Array): void {
  const n = source.width * source.height;
  if (source.data.length !== n * 3)
    throw badParameter(`${name}.source.data.length`, `${n * 3} values`, source.data.length);
  const wide = source.data instanceof Uint16Array;
  if (lut.length !== (wide ? 3 * 65536 : 768)) {
    throw badParameter(`${name}.lut.length`, wide ? '196608 values for 16 bits' : '768 values for 8 bits', lut.length);
  }
}

function lumaTable(lut: Float32Array): Float32Array {
  const known = LUMA_TABLES.get(lut);
  if (known) return known;
  const entries = lut.length / 3;
  const table = lut.map((v, i) => v * LUMA_WEIGHTS[Math.floor(i / entries)]!);
  LUMA_TABLES.set(lut, table);
  return table;
}

type Unpack = (src: number, n: number, lut: number, dst: number) => void;

function unpackInto(
  kernels: Kernels,
  source: PixelBlock,
  lut: Float32Array,
  to: number,
  unpack8: Unpack,
  unpack16: Unpack,
): void {
  const n = source.width * source.height;
  kernels.scope(() => {
    const table = kernels.alloc(lut.length * 4);
    const raw = kernels.alloc(source.data.byteLength);
    kernels.f32(table, lut.length).set(lut);
    if (source.data instanceof Uint16Array) {
      kernels.u16(raw, n * 3).set(source.data);
      unpack16(raw, n, table, to);
    } else {
      kernels.u8(raw, n * 3).set(source.data);
      unpack8(raw, n, table, to);
    }
  });
}
