// A region of one or more merges of the same frames, each after its recipe.
import { linearToSrgb, srgbToLinear, type Region } from '@blendrak/core/image';
import type { View } from '../optics/view';
import type { SetPlan } from '../shoot/planSet';
import { CELL, cellGrid, type CellGrid } from './cells';
import {
  mergeLight,
  mergeTone,
  placeFrame,
  toneTable,
  type PixelShift,
  type PlacedFrame,
  type ReadFrame,
} from './placeFrame';
import { NO_FRAME, type EdgeFill, type Recipe } from './recipe';

/**
 * Composes a region of the canvas with a feather of about one cell.
 * @param frames of the plan's delivered frames, those at hand
 * @returns one picture per recipe: interleaved RGB code values 0..1
 */
export function composeRegion(
  plan: SetPlan,
  recipes: readonly Recipe[],
  region: Region,
  bits: 8 | 16,
  read: ReadFrame,
): Float32Array[] {
  const grid = cellGrid(plan.canvas.width, plan.canvas.height);
  const tables = plan.frames.map((_, k) => toneTable(plan, k, bits));
  return recipes.map((recipe) => {
    const out = new Float32Array(region.width * region.height * 3);
    for (let k = 0; k < plan.frames.length; k++) {
      const weight = weightOf(recipe, grid, region, k);
      if (!weight) continue;
      const shift = shiftOf(recipe, grid, plan.canvas);
      const placed = placeFrame(plan, plan.canvas, region, k, tables[k]!, read, { weight, shift });
      if (placed) addFrame(out, placed, weight, recipe, grid, region, plan);
    }
    if (recipe.edge?.mode === 'empty') emptyEdge(out, region, recipe.edge, plan.canvas);
    return out;
  });
}

/** Four cells around a pixel and their bilinear weights. */
interface Around {
  i: number;
  j: number;
  u: number;
  v: number;
}

function around(grid: CellGrid, x: number, y: number, out: Around): void {
  const gx = Math.min(grid.width - 1.001, Math.max(0, (x + 0.5) / CELL - 0.5));
  const gy = Math.min(grid.height - 1.001, Math.max(0, (y + 0.5) / CELL - 0.5));
  const x0 = Math.floor(gx);
  const y0 = Math.floor(gy);
  out.i = y0 * grid.width + x0;
  out.j = out.i + (grid.height > 1 ? grid.width : 0);
  out.u = gx - x0;
  out.v = gy - y0;
}

/** Share of a frame in a cell. */
function shareIn(recipe: Recipe, cell: number, frame: number): number {
  const mixed = recipe.second[cell] === NO_FRAME ? 0 : recipe.share[cell]!;
  return (recipe.labels[cell] === frame ? 1 - mixed : 0) + (recipe.second[cell] === frame ? mixed : 0);
}

function weightOf(recipe: Recipe, grid: CellGrid, region: Region, frame: number): Float32Array | null {
  const out = new Float32Array(region.width * region.height);
  const a: Around = { i: 0, j: 0, u: 0, v: 0 };
  let any = false;
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      around(grid, region.x + x, region.y + y, a);
      const w =
        (1 - a.v) * ((1 - a.u) * shareIn(recipe, a.i, frame) + a.u * shareIn(recipe, a.i + 1, frame)) +
        a.v * ((1 - a.u) * shareIn(recipe, a.j, frame) + a.u * shareIn(recipe, a.j + 1, frame));
      if (w === 0) continue;
      out[y * region.width + x] = w;
      any = true;
    }
  }
  return any ? out : null;
}

function nearestCell(grid: CellGrid, x: number, y: number): number {
  const cx = Math.min(grid.width - 1, Math.max(0, Math.floor(x / CELL)));
  const cy = Math.min(grid.height - 1, Math.max(0, Math.floor(y / CELL)));
  return cy * grid.width + cx;
}

/** Where each pixel takes its picture from: the recipe's shifts, and the mirrored or smeared strip along an edge. */
function shiftOf(recipe: Recipe, grid: CellGrid, canvas: View): PixelShift {
  const { edge } = recipe;
  return (x, y) => {
    const cell = nearestCell(grid, x, y);
    const dx = recipe.shiftX[cell]!;
    const dy = recipe.shiftY[cell]!;
    const own = dx === 0 && dy === 0 ? null : ([dx, dy] as const);
    if (!edge || edge.mode === 'empty') return own;
    const inside = depthInEdge(edge, canvas, x, y);
    if (inside <= 0) return own;
    // Mirrored about the strip's inner border, or held at it.
    const back = edge.mode === 'mirrored' ? 2 * inside : inside;
    const horizontal = edge.side === 'left' || edge.side === 'right';
    const sign = edge.side === 'left' || edge.side === 'top' ? 1 : -1;
    return horizontal ? [dx + sign * back, dy] : [dx, dy + sign * back];
  };
}

/** How far a pixel lies inside the strip, from its inner border outwards, px; not positive outside it. */
export function depthInEdge(edge: EdgeFill, canvas: { width: number; height: number }, x: number, y: number): number {
  const { side, widthPx } = edge;
  const from =
    side === 'left' ? x : side === 'top' ? y : side === 'right' ? canvas.width - 1 - x : canvas.height - 1 - y;
  return widthPx - from - 0.5;
}

function emptyEdge(out: Float32Array, region: Region, edge: EdgeFill, canvas: View): void {
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      if (depthInEdge(edge, canvas, region.x + x, region.y + y) <= 0) continue;
      out.fill(0, 3 * (y * region.width + x), 3 * (y * region.width + x) + 3);
    }
  }
}

function addFrame(
  out: Float32Array,
  placed: PlacedFrame,
  weight: Float32Array,
  recipe: Recipe,
  grid: CellGrid,
  region: Region,
  plan: SetPlan,
): void {
  const tone = plan.kind === 'bracket' ? mergeTone('bracket') : linearToSrgb;
  const light = plan.kind === 'bracket' ? mergeLight('bracket') : srgbToLinear;
  const [gr, gg, gb] = recipe.gain;
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const i = y * region.width + x;
      const w = weight[i]!;
      if (w === 0) continue;
      const cell = nearestCell(grid, region.x + x, region.y + y);
      const to = 3 * i;
      if (gr[cell] === 1 && gg[cell] === 1 && gb[cell] === 1) {
        for (let c = 0; c < 3; c++) out[to + c] = out[to + c]! + w * placed.rgb[to + c]!;
        continue;
      }
      for (let c = 0; c < 3; c++) {
        const k = (c === 0 ? gr : c === 1 ? gg : gb)[cell]!;
        out[to + c] = out[to + c]! + w * tone(light(Math.max(0, placed.rgb[to + c]!)) * k);
      }
    }
  }
}

/** Mean squared difference of two interleaved RGB pictures of a region per cell. */
export function cellDifference(a: Float32Array, b: Float32Array, region: Region): Float32Array {
  const grid = cellGrid(region.width, region.height);
  const out = new Float32Array(grid.width * grid.height);
  for (let y = 0; y < grid.height * CELL; y++) {
    const row = (y >> 2) * grid.width;
    let at = y * region.width * 3;
    for (let x = 0; x < grid.width * CELL; x++, at += 3) {
      const dr = a[at]! - b[at]!;
      const dg = a[at + 1]! - b[at + 1]!;
      const db = a[at + 2]! - b[at + 2]!;
      out[row + (x >> 2)]! += (dr * dr + dg * dg + db * db) / (CELL * CELL * 3);
    }
  }
  return out;
}
