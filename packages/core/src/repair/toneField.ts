// A donor's tone brought to its surroundings: what is to be added to it is known around the mask, and carried evenly across it.
import { requireLength } from '../checks';
import type { Region } from '../image';
import { planeView, type KernelPlanes, type Kernels } from '../kernels';

/** Encoded values to be added to a donor, on a grid over the box that its mask can touch, and a margin around it. */
export interface ToneField {
  readonly columns: number;
  readonly rows: number;
  /** Levels of lightness from 0 to 1, each with a grid of its own; one for all where it is left out. */
  readonly levels?: number | undefined;
  /** R, G and B of each node, row by row, level by level; nodes stand in the middles of equal parts of the box. */
  readonly values: readonly number[];
  /** How far the box reaches beyond what the mask can touch, merge px; 0 where it is left out. */
  readonly marginPx?: number | undefined;
}

/** Nodes along each side: tones change slowly, and edges must not be followed. */
const MOST_NODES = 20;
const NODE_PX = 16;
/** A difference larger than this is another thing, not another tone. */
const MOST_OFFSET = 0.2;
/** A node is known where so much of its part lies around the mask. */
const KNOWN_SHARE = 0.04;
const SWEEPS = 400;
/** Tones are compared so far around a mask, px. */
export const TONE_MARGIN_PX = 32;
/** Nodes along each side that a record may hold. */
const MOST_KEPT_NODES = 64;

/**
 * Fits a field: the mean difference around the mask where the mask is none, solved for evenly (Laplace) where it is.
 * Source: the membrane of P. Pérez, M. Gangnet and A. Blake, "Poisson image editing", SIGGRAPH 2003, on a coarse grid.
 * @param merge R, G, B of the box as repaired so far, encoded 0..1
 * @param donor R, G, B of the donor there, and where it is valid
 * @param mask of the box, 0..1
 * @returns null where nothing around the mask can be compared
 * @throws ParameterError for pictures of different sizes
 */
export function fitToneField(
  merge: readonly Float32Array[],
  donor: readonly Float32Array[],
  mask: Float32Array,
  { width, height }: Pick<Region, 'width' | 'height'>,
): ToneField | null {
  requireLength('fitToneField.length', [...merge, ...donor, mask], width * height);
  const columns = Math.max(2, Math.min(MOST_NODES, Math.ceil(width / NODE_PX)));
  const rows = Math.max(2, Math.min(MOST_NODES, Math.ceil(height / NODE_PX)));
  const n = columns * rows;
  const [sums, weights] = [new Float64Array(3 * n), new Float64Array(n)];
  const valid = donor[3]!;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (mask[i]! > 0 || !valid[i]) continue;
      const node =
        Math.min(rows - 1, Math.floor((y * rows) / height)) * columns +
        Math.min(columns - 1, Math.floor((x * columns) / width));
      weights[node]! += 1;
      for (let c = 0; c < 3; c++) {
        const difference = merge[c]![i]! - donor[c]![i]!;
        sums[3 * node + c]! += Math.min(MOST_OFFSET, Math.max(-MOST_OFFSET, difference));
      }
    }
  const least = (KNOWN_SHARE * width * height) / n;
  const isKnown = Array.from(weights, (w) => w >= least);
  if (!isKnown.includes(true)) return null;
  const values = new Float64Array(3 * n);
  for (let node = 0; node < n; node++)
    if (isKnown[node]) for (let c = 0; c < 3; c++) values[3 * node + c] = sums[3 * node + c]! / weights[node]!;
  spread(values, isKnown, columns, rows);
  return { columns, rows, values: Array.from(values, (v) => Number(v.toFixed(5))) };
}

/** The box that a field lies over: what its mask can touch and the margin around it, merge px. */
export function fieldBox({ x, y, width, height }: Region, marginPx = 0): Region {
  return { x: x - marginPx, y: y - marginPx, width: width + 2 * marginPx, height: height + 2 * marginPx };
}

/**
 * The same field over another box: what held for a mask still holds for a part of it.
 * @param from what the mask could touch for which it was fitted, merge px
 * @param to what the mask can touch that it is for now
 */
export function fieldOver(field: ToneField, from: Region, to: Region): ToneField {
  const { columns, rows, levels = 1, values, marginPx } = field;
  const [was, is] = [fieldBox(from, marginPx), fieldBox(to, marginPx)];
  const [across, down] = [nodesFor(columns, is.width / was.width), nodesFor(rows, is.height / was.height)];
  const xs = Array.from({ length: across }, (_, k) =>
    nodeAt(is.x + ((k + 0.5) * is.width) / across, was.x, was.width, columns),
  );
  const ys = Array.from({ length: down }, (_, k) =>
    nodeAt(is.y + ((k + 0.5) * is.height) / down, was.y, was.height, rows),
  );
  const out: number[] = [];
  for (let level = 0; level < levels; level++)
    for (const [y0, fy] of ys)
      for (const [x0, fx] of xs)
        for (let c = 0; c < 3; c++) {
          const at = 3 * ((level * rows + y0) * columns + x0) + c;
          const below = at + 3 * columns;
          const upper = values[at]! * (1 - fx) + values[at + 3]! * fx;
          const lower = values[below]! * (1 - fx) + values[below + 3]! * fx;
          out.push(Number((upper * (1 - fy) + lower * fy).toFixed(5)));
        }
  return { ...field, columns: across, rows: down, values: out };
}

/** As many nodes for a side as keep their distance. */
function nodesFor(count: number, ratio: number): number {
  return Math.max(2, Math.min(MOST_KEPT_NODES, Math.round(count * ratio)));
}

/** The node before a place within a box, and how far on to the next it lies. */
function nodeAt(at: number, from: number, length: number, nodes: number): readonly [number, number] {
  return nodeBetween(((at - from) / length) * nodes - 0.5, nodes);
}

/**
 * The node before a place, and how far on to the next it lies, 0..1; the outermost nodes hold beyond.
 * @param at place, in nodes from the first
 */
export function nodeBetween(at: number, nodes: number): readonly [number, number] {
  const v = Math.min(nodes - 1, Math.max(0, at));
  const node = Math.min(nodes - 2, Math.floor(v));
  return [node, v - node];
}

/** Gauss–Seidel sweeps: an unknown node becomes the mean of its neighbours until nothing changes. */
function spread(values: Float64Array, isKnown: readonly boolean[], columns: number, rows: number): void {
  // From the mean of what is known the sweeps have less far to go.
  for (let c = 0; c < 3; c++) {
    let [sum, count] = [0, 0];
    isKnown.forEach((known, node) => {
      if (!known) return;
      sum += values[3 * node + c]!;
      count += 1;
    });
    isKnown.forEach((known, node) => {
      if (!known) values[3 * node + c] = sum / count;
    });
  }
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let most = 0;
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < columns; x++) {
        const node = y * columns + x;
        if (isKnown[node]) continue;
        for (let c = 0; c < 3; c++) {
          let [sum, count] = [0, 0];
          if (x > 0) [sum, count] = [sum + values[3 * (node - 1) + c]!, count + 1];
          if (x < columns - 1) [sum, count] = [sum + values[3 * (node + 1) + c]!, count + 1];
          if (y > 0) [sum, count] = [sum + values[3 * (node - columns) + c]!, count + 1];
          if (y < rows - 1) [sum, count] = [sum + values[3 * (node + columns) + c]!, count + 1];
          most = Math.max(most, Math.abs(sum / count - values[3 * node + c]!));
          values[3 * node + c] = sum / count;
        }
      }
    if (most < 1e-6) return;
  }
}

/**
 * Adds a field to a donor's pixels, between the nodes bilinearly.
 * @param planes R, G, B (and more) of a part of the picture, changed in place
 * @param part that the planes cover, in units of `scale` merge px
 * @param touched what the mask can touch, merge px
 */
export function addToneField(
  kernels: Kernels,
  planes: KernelPlanes,
  part: Region,
  { columns, rows, levels = 1, values, marginPx }: ToneField,
  touched: Region,
  scale = 1,
): void {
  const box = fieldBox(touched, marginPx);
  const views = [0, 1, 2].map((c) => planeView(kernels, planes, c));
  const along = Array.from({ length: part.width }, (_, x) =>
    nodeAt((part.x + x + 0.5) * scale, box.x, box.width, columns),
  );
  for (let y = 0; y < part.height; y++) {
    const [y0, fy] = nodeAt((part.y + y + 0.5) * scale, box.y, box.height, rows);
    for (let x = 0; x < part.width; x++) {
      const [x0, fx] = along[x]!;
      const i = y * part.width + x;
      const lightness =
        levels === 1 ? 0 : (levels - 1) * (0.2126 * views[0]![i]! + 0.7152 * views[1]![i]! + 0.0722 * views[2]![i]!);
      const l0 = Math.min(Math.max(0, levels - 2), Math.max(0, Math.floor(lightness)));
      const fl = levels === 1 ? 0 : Math.min(1, Math.max(0, lightness - l0));
      const a = 3 * ((l0 * rows + y0) * columns + x0);
      const above = levels === 1 ? a : a + 3 * columns * rows;
      const down = 3 * columns;
      const at = (from: number): number =>
        (values[from]! * (1 - fx) + values[from + 3]! * fx) * (1 - fy) +
        (values[from + down]! * (1 - fx) + values[from + down + 3]! * fx) * fy;
      for (let c = 0; c < 3; c++) {
        const own = at(a + c);
        views[c]![i] = views[c]![i]! + own + (fl > 0 ? fl * (at(above + c) - own) : 0);
      }
    }
  }
}
