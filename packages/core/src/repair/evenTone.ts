// The merge's own tone evened out: what is to be added to it within a mask so that it lies to a frame as it does around the mask.
import { requireLength } from '../checks';
import { median, type Region } from '../image';
import type { ToneField } from './toneField';

const MOST_NODES = 32;
const NODE_PX = 8;
/** Levels of lightness: what lies on either side of an edge is evened by itself. */
const LEVELS = 6;
/** A node is known where so many px tell of it. */
const LEAST_PX = 6;
/** A node lies in the mask where that covers so much of its part; it tells of the surroundings where it covers none. */
const IN_MASK = 0.02;
/** Places tell of each other as far as they are of one colour, encoded, and near, as a share of the box's longer side. */
const [SIGMA_COLOUR, SIGMA_NEAR] = [0.06, 0.3];
/** Fewer witnesses than these, by weight, tell nothing: the place stays as it is. */
const LEAST_WITNESSES = 1.5;
/** One witness in so many is held against the others. */
const ASKED_EVERY = 5;
/** What holds no px is as what is told around it, so many nodes and levels off. */
const FILL_SIGMA = 1;
const FILL_REACH = [2, 1] as const;
/** A level is concerned where so much of what was found lies at it; so are its neighbours, as px lie between levels. */
const CONCERNED_SHARE = 0.1;
/** A difference larger than this is another thing, not another tone. */
const MOST_OFFSET = 0.35;

type Colours = readonly [Float32Array, Float32Array, Float32Array];

/** What nodes know: level by level, row by row. */
interface Nodes {
  /** Merge less frame, by channel; NaN where it is not known. */
  readonly apart: Colours;
  /** The frame's colour. */
  readonly colour: Colours;
  readonly inMask: Uint8Array;
  /** Where the merge has px that the frame tells nothing of: it is burnt or black there. */
  readonly untold: Uint8Array;
}

interface NodeGrid {
  readonly columns: number;
  readonly rows: number;
}

/**
 * Fits an evening: how merge and frame differ around the mask, in places of the same colour, is how they should differ within it. Places
 * of a colour that is nowhere around stay as they are. Detail is the merge's own: nothing is painted in.
 * Nodes stand in place and lightness (the bilateral grid: J. Chen, S. Paris and F. Durand, ACM ToG 26(3), 2007).
 * @param merge R, G, B of the box as repaired so far, encoded 0..1
 * @param frames R, G, B of each frame there, toned to the merge, and where it holds (1); each node is told by the frame that holds most of the
 *   mask of those that tell of it: where one is burnt another is not
 * @param mask of the box, 0..1
 * @param found px of the box in which a defect was found, 1 for each: lightness that it hardly has is not evened, as an edge spoils one of
 *   its sides; without it all is evened
 * @returns null where nothing around the mask tells of what is within
 * @throws ParameterError for pictures of different sizes
 * Cost: 30 ns per px, and 30 ns per pair of nodes within and around, for each frame.
 */
export function fitEvening(
  merge: readonly Float32Array[],
  frames: readonly (readonly Float32Array[])[],
  mask: Float32Array,
  { width, height }: Pick<Region, 'width' | 'height'>,
  found?: Uint8Array,
): ToneField | null {
  requireLength('fitEvening.length', [...merge, ...frames.flat(), mask, ...(found ? [found] : [])], width * height);
  const [columns, rows] = [width, height].map((side) =>
    Math.max(2, Math.min(MOST_NODES, Math.ceil(side / NODE_PX))),
  ) as [number, number];
  const grid = { columns, rows };
  const values = new Float64Array(3 * columns * rows * LEVELS);
  const told = new Uint8Array(columns * rows * LEVELS);
  const isEmpty = new Uint8Array(told.length).fill(1);
  const isConcerned = found ? levelsOf(merge, found) : new Array<boolean>(LEVELS).fill(true);
  for (const frame of byHeld(frames, mask)) {
    const nodes = nodesOf(merge, frame, mask, width, height, grid);
    tell(values, told, nodes, grid, isConcerned);
    nodes.inMask.forEach((v, n) => {
      if (!v || !Number.isNaN(nodes.apart[0][n]!) || nodes.untold[n]) isEmpty[n] = 0;
    });
    // What is left lies outside the mask or holds no px of the merge: no other frame tells more.
    if (nodes.inMask.every((v, n) => !v || told[n] || isEmpty[n])) break;
  }
  if (!told.includes(1)) return null;
  fill(values, isEmpty, told, grid);
  return { columns, rows, levels: LEVELS, values: Array.from(values, (v) => Number(v.toFixed(4))) };
}

/** Frames with those first that hold most of a mask. */
function byHeld(frames: readonly (readonly Float32Array[])[], mask: Float32Array): (readonly Float32Array[])[] {
  const heldBy = new Map(frames.map((frame) => [frame, frame[3]!.reduce((sum, v, i) => sum + (v ? mask[i]! : 0), 0)]));
  return [...frames].sort((a, b) => heldBy.get(b)! - heldBy.get(a)!);
}

/**
 * Adds what a frame tells of the nodes within the mask that nobody has told of yet. What differs by no more than places around the mask do
 * among themselves is no halo: a moving sea lies otherwise to each exposure everywhere.
 */
function tell(
  values: Float64Array,
  told: Uint8Array,
  nodes: Nodes,
  grid: NodeGrid,
  isConcerned: readonly boolean[],
): void {
  const { apart, inMask } = nodes;
  const isKnown = (n: number): boolean => !Number.isNaN(apart[0][n]!);
  const witnesses = Array.from(inMask.keys()).filter((n) => !inMask[n] && isKnown(n));
  const usual = usualOf(nodes, witnesses, grid);
  for (let n = 0; n < inMask.length; n++) {
    if (!inMask[n] || told[n] || !isKnown(n)) continue;
    const expected = expectedOf(n, nodes, witnesses, grid);
    if (!expected) continue;
    told[n] = 1;
    const level = placeOf(n, grid)[2];
    if (!isConcerned[level]) continue;
    const off = expected.map((v, c) => v - apart[c]![n]!);
    const square = meanSquare(off);
    const share = square > 0 ? Math.max(0, 1 - usual[level]! / square) : 0;
    off.forEach((v, c) => (values[3 * n + c] = share * v));
  }
}

/** How merge and frame should differ in a node, by places of its colour around the mask; null where too few tell of it. */
function expectedOf(
  n: number,
  { apart, colour }: Nodes,
  witnesses: readonly number[],
  grid: NodeGrid,
): readonly number[] | null {
  const near = SIGMA_NEAR * Math.max(grid.columns, grid.rows);
  const [x, y] = placeOf(n, grid);
  let [sum, r, g, b] = [0, 0, 0, 0];
  for (const m of witnesses) {
    if (m === n) continue;
    const [u, v] = placeOf(m, grid);
    const unlike = colour.reduce((s, c) => s + (c[m]! - c[n]!) ** 2, 0) / (2 * SIGMA_COLOUR ** 2);
    const w = Math.exp(-((u - x) ** 2 + (v - y) ** 2) / (2 * near * near) - unlike);
    sum += w;
    r += w * apart[0][m]!;
    g += w * apart[1][m]!;
    b += w * apart[2][m]!;
  }
  return sum < LEAST_WITNESSES ? null : [r / sum, g / sum, b / sum];
}

/** By how much, as a square by level, witnesses differ from what others of them tell: their median. */
function usualOf(nodes: Nodes, witnesses: readonly number[], grid: NodeGrid): number[] {
  const byLevel: number[][] = Array.from({ length: LEVELS }, () => []);
  for (let k = 0; k < witnesses.length; k += ASKED_EVERY) {
    const n = witnesses[k]!;
    const expected = expectedOf(n, nodes, witnesses, grid);
    if (expected) byLevel[placeOf(n, grid)[2]]!.push(meanSquare(expected.map((v, c) => v - nodes.apart[c]![n]!)));
  }
  return byLevel.map((squares) => (squares.length === 0 ? 0 : median(squares)));
}

function meanSquare(values: readonly number[]): number {
  return values.reduce((sum, v) => sum + v * v, 0) / values.length;
}

function placeOf(node: number, { columns, rows }: NodeGrid): [x: number, y: number, level: number] {
  return [node % columns, Math.floor(node / columns) % rows, Math.floor(node / (columns * rows))];
}

/**
 * Gives nodes within the mask that hold no px of their own what is told around them, so that what lies between two is evened, too. What
 * is known and finds no witness stays as it is, and so does what the frame tells nothing of.
 */
function fill(values: Float64Array, isEmpty: Uint8Array, told: Uint8Array, { columns, rows }: NodeGrid): void {
  for (let n = 0; n < isEmpty.length; n++) {
    if (!isEmpty[n]) continue;
    const [x, y, level] = placeOf(n, { columns, rows });
    let weights = 0;
    const sums = [0, 0, 0];
    for (let l = Math.max(0, level - FILL_REACH[1]); l <= Math.min(LEVELS - 1, level + FILL_REACH[1]); l++)
      for (let v = Math.max(0, y - FILL_REACH[0]); v <= Math.min(rows - 1, y + FILL_REACH[0]); v++)
        for (let u = Math.max(0, x - FILL_REACH[0]); u <= Math.min(columns - 1, x + FILL_REACH[0]); u++) {
          const m = (l * rows + v) * columns + u;
          if (!told[m]) continue;
          const w = Math.exp(-((l - level) ** 2 + (v - y) ** 2 + (u - x) ** 2) / (2 * FILL_SIGMA ** 2));
          weights += w;
          for (let c = 0; c < 3; c++) sums[c]! += w * values[3 * m + c]!;
        }
    if (weights > 0) for (let c = 0; c < 3; c++) values[3 * n + c] = sums[c]! / weights;
  }
}

function nodesOf(
  merge: readonly Float32Array[],
  frame: readonly Float32Array[],
  mask: Float32Array,
  width: number,
  height: number,
  { columns, rows }: NodeGrid,
): Nodes {
  const count = columns * rows * LEVELS;
  const plane = (): Float32Array => new Float32Array(count).fill(NaN);
  const apart = [plane(), plane(), plane()] as const;
  const colour = [plane(), plane(), plane()] as const;
  const [inMask, untold] = [new Uint8Array(count), new Uint8Array(count)];
  const holds = frame[3]!;
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const [x0, x1] = [column, column + 1].map((k) => Math.floor((k * width) / columns)) as [number, number];
      const [y0, y1] = [row, row + 1].map((k) => Math.floor((k * height) / rows)) as [number, number];
      const byLevel: number[][] = Array.from({ length: LEVELS }, () => []);
      const untoldPx = new Array<number>(LEVELS).fill(0);
      let covered = 0;
      for (let y = y0; y < y1; y++)
        for (let x = x0, i = y * width + x0; x < x1; x++, i++) {
          covered += mask[i]!;
          const level = levelOf(merge, i);
          if (holds[i]) byLevel[level]!.push(i);
          else untoldPx[level]! += 1;
        }
      const isIn = covered > IN_MASK * Math.max(1, (x1 - x0) * (y1 - y0));
      byLevel.forEach((px, level) => {
        const n = (level * rows + row) * columns + column;
        if (isIn) inMask[n] = 1;
        if (untoldPx[level]! >= LEAST_PX) untold[n] = 1;
        if (px.length < LEAST_PX) return;
        for (let c = 0; c < 3; c++) {
          const [m, f] = [merge[c]!, frame[c]!];
          apart[c]![n] = median(px.map((i) => Math.max(-MOST_OFFSET, Math.min(MOST_OFFSET, m[i]! - f[i]!))));
          colour[c]![n] = px.reduce((sum, i) => sum + f[i]!, 0) / px.length;
        }
      });
    }
  return { apart, colour, inMask, untold };
}

/** Whether what was found is of a level's lightness, or next to it. */
function levelsOf(merge: readonly Float32Array[], found: Uint8Array): boolean[] {
  const counts = new Array<number>(LEVELS).fill(0);
  let all = 0;
  for (let i = 0; i < found.length; i++) {
    if (!found[i]) continue;
    counts[levelOf(merge, i)]! += 1;
    all++;
  }
  const isOf = counts.map((n) => n >= CONCERNED_SHARE * all);
  return isOf.map((_, k) => isOf.slice(Math.max(0, k - 1), k + 2).includes(true));
}

/** Level nearest to a px's lightness. */
function levelOf([r, g, b]: readonly Float32Array[], i: number): number {
  const luma = 0.2126 * r![i]! + 0.7152 * g![i]! + 0.0722 * b![i]!;
  return Math.round(Math.min(1, Math.max(0, luma)) * (LEVELS - 1));
}
