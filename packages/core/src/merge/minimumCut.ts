// The cheapest cut of a grid of cells into two sides.
import { badParameter } from '../checks';

/** A grid graph: each cell has arcs to its right, left, lower and upper neighbour, and to both terminals. */
export interface GridGraph {
  readonly width: number;
  readonly height: number;
  /** Four values per cell: what it costs when this cell is on the first side and the neighbour (right, left, below, above) on the second. */
  readonly arcs: Float32Array;
  /** Per cell: cost of the second side minus cost of the first. */
  readonly second: Float32Array;
}

const FREE = 0;
const FIRST = 1;
const SECOND = 2;
const NO_PARENT = -1;
const TERMINAL = 4;
const ORPHAN = 5;
/** What is left of a capacity after rounding. */
const TINY = 1e-7;

/**
 * Finds the two sides of least cost (maximum flow).
 * @param graph its arcs are used up
 * @returns 1 for cells on the second side
 * @throws ParameterError when sizes disagree
 * Cost: some µs per cell for seams.
 * Source: Y. Boykov and V. Kolmogorov, IEEE PAMI 26(9), 2004 (two search trees that are kept from path to path).
 */
export function minimumCut({ width, height, arcs, second }: GridGraph): Uint8Array {
  const n = width * height;
  if (arcs.length !== 4 * n) throw badParameter('minimumCut.graph.arcs.length', `${4 * n} values`, arcs.length);
  if (second.length !== n) throw badParameter('minimumCut.graph.second.length', `${n} values`, second.length);
  const s = plantTrees(width, height, arcs, second);
  for (let current = takeActive(s); current >= 0;) {
    const meeting = grow(s, current);
    s.time++;
    if (!meeting) {
      current = takeActive(s);
      continue;
    }
    augment(s, meeting[0], meeting[1]);
    while (s.orphans.length > 0) {
      const waiting = s.orphans;
      s.orphans = [];
      for (const p of waiting) adopt(s, p);
    }
    if (s.parent[current] === NO_PARENT) current = takeActive(s);
  }
  return Uint8Array.from(s.tree, (t) => (t === FIRST ? 0 : 1));
}

/** Direction opposite to right, left, below, above. */
const BACK = [1, 0, 3, 2] as const;

/** Both trees and what is known of their cells. */
interface Search {
  readonly width: number;
  readonly count: number;
  /** Step to the neighbour in each direction. */
  readonly step: readonly [number, number, number, number];
  readonly arcs: Float32Array;
  /** Positive: what the first terminal can still send; negative: what the second can still take. */
  readonly terminal: Float32Array;
  readonly tree: Uint8Array;
  /** Direction towards the terminal. */
  readonly parent: Int8Array;
  /** When the distance to the terminal was last known to hold. */
  readonly stamp: Int32Array;
  readonly distance: Int32Array;
  /** Queue of cells from which a tree may grow: −1 outside it, the last points to itself. */
  readonly nextActive: Int32Array;
  activeHead: number;
  activeTail: number;
  orphans: number[];
  time: number;
}

function plantTrees(width: number, height: number, arcs: Float32Array, second: Float32Array): Search {
  const count = width * height;
  const s: Search = {
    width,
    count,
    step: [1, -1, width, -width],
    arcs,
    terminal: second.slice(),
    tree: new Uint8Array(count),
    parent: new Int8Array(count).fill(NO_PARENT),
    stamp: new Int32Array(count),
    distance: new Int32Array(count),
    nextActive: new Int32Array(count).fill(-1),
    activeHead: -1,
    activeTail: -1,
    orphans: [],
    time: 0,
  };
  for (let p = 0; p < count; p++) {
    if (second[p] === 0) continue;
    s.tree[p] = second[p]! > 0 ? FIRST : SECOND;
    s.parent[p] = TERMINAL;
    s.distance[p] = 1;
    activate(s, p);
  }
  return s;
}

function hasNeighbour({ width, count }: Search, p: number, d: number): boolean {
  if (d === 0) return p % width < width - 1;
  if (d === 1) return p % width > 0;
  return d === 2 ? p + width < count : p >= width;
}

function activate(s: Search, p: number): void {
  if (s.nextActive[p] !== -1) return;
  s.nextActive[p] = p;
  if (s.activeTail >= 0) s.nextActive[s.activeTail] = p;
  else s.activeHead = p;
  s.activeTail = p;
}

function takeActive(s: Search): number {
  while (s.activeHead >= 0) {
    const p = s.activeHead;
    if (s.nextActive[p] === p) s.activeHead = s.activeTail = -1;
    else s.activeHead = s.nextActive[p]!;
    s.nextActive[p] = -1;
    if (s.parent[p] !== NO_PARENT) return p;
  }
  return -1;
}

/** Takes free neighbours into the cell's tree; returns cell and direction where the first tree meets the second. */
function grow(s: Search, p: number): readonly [number, number] | null {
  const side = s.tree[p]!;
  for (let d = 0; d < 4; d++) {
    if (!hasNeighbour(s, p, d)) continue;
    const q = p + s.step[d]!;
    const back = BACK[d]!;
    const room = side === FIRST ? s.arcs[4 * p + d]! : s.arcs[4 * q + back]!;
    if (room <= 0) continue;
    if (s.tree[q] === FREE) {
      s.tree[q] = side;
      s.parent[q] = back;
      s.stamp[q] = s.stamp[p]!;
      s.distance[q] = s.distance[p]! + 1;
      activate(s, q);
    } else if (s.tree[q] !== side) return side === FIRST ? [p, d] : [q, back];
  }
  return null;
}

/** Pushes all it can along first tree → p → its neighbour in direction d → second tree. */
function augment(s: Search, p: number, d: number): void {
  const { arcs, parent, step, terminal } = s;
  const q = p + step[d]!;
  let most = arcs[4 * p + d]!;
  let at = p;
  for (; parent[at] !== TERMINAL; at += step[parent[at]!]!)
    most = Math.min(most, arcs[4 * (at + step[parent[at]!]!) + BACK[parent[at]!]!]!);
  most = Math.min(most, terminal[at]!);
  for (at = q; parent[at] !== TERMINAL; at += step[parent[at]!]!) most = Math.min(most, arcs[4 * at + parent[at]!]!);
  most = Math.min(most, -terminal[at]!);
  arcs[4 * p + d]! -= most;
  arcs[4 * q + BACK[d]!]! += most;
  drain(s, p, most, FIRST);
  drain(s, q, most, SECOND);
}

/** Takes the flow off the way from a cell to its terminal; cells whose arc is used up lose their parent. */
function drain(s: Search, from: number, most: number, side: number): void {
  const { arcs, parent, step, terminal } = s;
  let at = from;
  while (parent[at] !== TERMINAL) {
    const dir = parent[at]!;
    const up = at + step[dir]!;
    const [down, upwards] = [4 * up + BACK[dir]!, 4 * at + dir];
    const [used, opened] = side === FIRST ? [down, upwards] : [upwards, down];
    arcs[opened]! += most;
    arcs[used]! -= most;
    if (arcs[used]! < TINY) {
      arcs[used] = 0;
      orphan(s, at);
    }
    at = up;
  }
  terminal[at]! -= side === FIRST ? most : -most;
  if (Math.abs(terminal[at]!) < TINY) {
    terminal[at] = 0;
    orphan(s, at);
  }
}

function orphan(s: Search, p: number): void {
  s.parent[p] = ORPHAN;
  s.orphans.push(p);
}

/** Steps to the terminal through live parents; −1 when the way ends at an orphan. */
function depthOf(s: Search, p: number): number {
  const { stamp, distance, parent, step, time } = s;
  let steps = 0;
  let at = p;
  for (;;) {
    if (stamp[at] === time) {
      steps += distance[at]!;
      break;
    }
    const dir = parent[at]!;
    steps++;
    if (dir === TERMINAL) {
      stamp[at] = time;
      distance[at] = 1;
      break;
    }
    if (dir === ORPHAN || dir === NO_PARENT) return -1;
    at += step[dir]!;
  }
  let left = steps;
  for (at = p; stamp[at] !== time; at += step[parent[at]!]!) {
    stamp[at] = time;
    distance[at] = left--;
  }
  return steps;
}

/** Whether a neighbour of the same tree could feed (or drain) the cell. */
function canFeed(s: Search, p: number, d: number): boolean {
  const q = p + s.step[d]!;
  return (s.tree[p] === FIRST ? s.arcs[4 * q + BACK[d]!]! : s.arcs[4 * p + d]!) > 0;
}

/** Finds an orphan the nearest parent in its tree; without one it becomes free, and its children orphans. */
function adopt(s: Search, p: number): void {
  const side = s.tree[p]!;
  let bestDir = -1;
  let bestDepth = Infinity;
  for (let d = 0; d < 4; d++) {
    if (!hasNeighbour(s, p, d)) continue;
    const q = p + s.step[d]!;
    if (s.tree[q] !== side || !canFeed(s, p, d)) continue;
    const depth = depthOf(s, q);
    if (depth >= 0 && depth < bestDepth) [bestDepth, bestDir] = [depth, d];
  }
  if (bestDir >= 0) {
    s.parent[p] = bestDir;
    s.stamp[p] = s.time;
    s.distance[p] = bestDepth + 1;
    return;
  }
  for (let d = 0; d < 4; d++) {
    if (!hasNeighbour(s, p, d)) continue;
    const q = p + s.step[d]!;
    if (s.tree[q] !== side) continue;
    if (canFeed(s, p, d)) activate(s, q);
    const dir = s.parent[q]!;
    if (dir >= 0 && dir < TERMINAL && q + s.step[dir]! === p) orphan(s, q);
  }
  s.tree[p] = FREE;
  s.parent[p] = NO_PARENT;
}
