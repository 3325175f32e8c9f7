// The tone of one part of a repair in which the light of near edges is taken out of its frame: what cells say, as a field over its mask.
import type { Region } from '../image';
import { CELL_PX } from '../kernels';
import type { ChosenFrames } from './chooseFrames';
import type { ToneField } from './toneField';

/** Nodes along each side at most: light of a near edge falls off within some cells, and a record is kept of each node. */
const MOST_NODES = 48;
/** A mask fades over cells that are another frame's: what holds beside them holds so far. */
const FADE_CELLS = 4;
/** Less than this nobody sees: half a level of 8 bits. */
const LEAST = 0.002;
const DECIMALS = 4;

/** Cells of a part of the merge. */
interface CellGrid {
  readonly width: number;
  readonly height: number;
  /** Merge px of its first cell's corner. */
  readonly x: number;
  readonly y: number;
}

/**
 * Fits the field of a part to what is to be added to its frame in its cells.
 * @param touched what the part's mask can touch, merge px
 * @param donor frame of the part; cells of other frames do not count
 * @returns null where nothing worth seeing is to be added
 * Cost: about 20 additions per cell that the mask can touch.
 */
export function liftedTone(
  touched: Region,
  donor: number,
  { frames, lift }: ChosenFrames,
  grid: CellGrid,
): ToneField | null {
  if (!lift) return null;
  const { values, isKnown, box } = cellsAround(touched, donor, { frames, lift }, grid);
  const [columns, rows] = [touched.width, touched.height].map((length) =>
    Math.max(2, Math.min(MOST_NODES, Math.ceil(length / CELL_PX))),
  ) as [number, number];
  const out: number[] = [];
  for (let row = 0; row < rows; row++) {
    const v = (touched.y + ((row + 0.5) * touched.height) / rows - grid.y) / CELL_PX - 0.5 - box.y;
    for (let column = 0; column < columns; column++) {
      const u = (touched.x + ((column + 0.5) * touched.width) / columns - grid.x) / CELL_PX - 0.5 - box.x;
      out.push(...between(values, isKnown, box, u, v));
    }
  }
  return out.some((v) => Math.abs(v) >= LEAST)
    ? { columns, rows, values: out.map((v) => Number(v.toFixed(DECIMALS))) }
    : null;
}

interface Known {
  /** R, G and B per cell of the box. */
  readonly values: Float32Array;
  readonly isKnown: Uint8Array;
  /** In cells of the grid. */
  readonly box: Region;
}

/** What is to be added in the cells under a mask and a little beyond, spread from those of the frame into those of others. */
function cellsAround(
  touched: Region,
  donor: number,
  { frames, lift }: { readonly frames: Uint8Array; readonly lift: Float32Array },
  grid: CellGrid,
): Known {
  const from = (at: number, origin: number): number => Math.floor((at - origin) / CELL_PX) - 1;
  const [x, y] = [from(touched.x, grid.x), from(touched.y, grid.y)];
  const box = {
    ...{ x, y },
    width: from(touched.x + touched.width, grid.x) + 3 - x,
    height: from(touched.y + touched.height, grid.y) + 3 - y,
  };
  const values = new Float32Array(3 * box.width * box.height);
  let isKnown = new Uint8Array(box.width * box.height);
  for (let v = 0; v < box.height; v++)
    for (let u = 0; u < box.width; u++) {
      const [gx, gy] = [x + u, y + v];
      if (gx < 0 || gy < 0 || gx >= grid.width || gy >= grid.height) continue;
      const cell = gy * grid.width + gx;
      if (frames[cell] !== donor) continue;
      isKnown[v * box.width + u] = 1;
      for (let c = 0; c < 3; c++) values[3 * (v * box.width + u) + c] = lift[3 * cell + c]!;
    }
  for (let step = 0; step < FADE_CELLS; step++) isKnown = spreadOnce(values, isKnown, box);
  return { values, isKnown, box };
}

/** Gives cells beside known ones the mean of those; what is known then. */
function spreadOnce(values: Float32Array, isKnown: Uint8Array, { width, height }: Region): Uint8Array<ArrayBuffer> {
  const next = Uint8Array.from(isKnown);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (isKnown[i]) continue;
      let [n, r, g, b] = [0, 0, 0, 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const j = v * width + u;
          if (!isKnown[j]) continue;
          n += 1;
          r += values[3 * j]!;
          g += values[3 * j + 1]!;
          b += values[3 * j + 2]!;
        }
      if (n === 0) continue;
      next[i] = 1;
      values.set([r / n, g / n, b / n], 3 * i);
    }
  return next;
}

/** The values between four cell middles, of those that are known; 0 where none is. */
function between(
  values: Float32Array,
  isKnown: Uint8Array,
  { width, height }: Region,
  u: number,
  v: number,
): [number, number, number] {
  const [x, y] = [Math.floor(u), Math.floor(v)];
  let [total, r, g, b] = [0, 0, 0, 0];
  for (let k = 0; k < 4; k++) {
    const [cx, cy] = [x + (k % 2), y + (k >> 1)];
    if (cx < 0 || cy < 0 || cx >= width || cy >= height || !isKnown[cy * width + cx]) continue;
    const w = (k % 2 === 0 ? x + 1 - u : u - x) * (k < 2 ? y + 1 - v : v - y);
    const at = 3 * (cy * width + cx);
    total += w;
    r += w * values[at]!;
    g += w * values[at + 1]!;
    b += w * values[at + 2]!;
  }
  return total > 0 ? [r / total, g / total, b / total] : [0, 0, 0];
}
