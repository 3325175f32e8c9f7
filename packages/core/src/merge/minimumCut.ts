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
  const offset = [1, -1, width, -width] as const;
  const back = [1, 0, 3, 2] as const;
  // Positive: what the first terminal can still send; negative: what the second can still take.
  const terminal = second.slice();
  const tree = new Uint8Array(n);
  const parent = new Int8Array(n).fill(NO_PARENT);
  const stamp = new Int32Array(n);
  const distance = new Int32Array(n);
  const nextActive = new Int32Array(n).fill(-1);
  let activeHead = -1;
  let activeTail = -1;
  let orphans: number[] = [];
  let time = 0;

  const hasNeighbour = (p: number, d: number): boolean => {
    if (d === 0) return p % width < width - 1;
    if (d === 1) return p % width > 0;
    return d === 2 ? p + width < n : p >= width;
  };
  const activate = (p: number): void => {
    if (nextActive[p] !== -1) return;
    // The last in the queue points to itself.
    nextActive[p] = p;
    if (activeTail >= 0) nextActive[activeTail] = p;
    else activeHead = p;
    activeTail = p;
  };
  const takeActive = (): number => {
    while (activeHead >= 0) {
      const p = activeHead;
      if (nextActive[p] === p) activeHead = activeTail = -1;
      else activeHead = nextActive[p]!;
      nextActive[p] = -1;
      if (parent[p] !== NO_PARENT) return p;
    }
    return -1;
  };
  for (let p = 0; p < n; p++) {
    if (terminal[p] === 0) continue;
    tree[p] = terminal[p]! > 0 ? FIRST : SECOND;
    parent[p] = TERMINAL;
    distance[p] = 1;
    activate(p);
  }

  /** Pushes all it can along first tree → p → q → second tree. */
  const augment = (p: number, d: number): void => {
    let most = arcs[4 * p + d]!;
    let at = p;
    for (; parent[at] !== TERMINAL; at += offset[parent[at]!]!) {
      const up = at + offset[parent[at]!]!;
      most = Math.min(most, arcs[4 * up + back[parent[at]!]!]!);
    }
    most = Math.min(most, terminal[at]!);
    at = p + offset[d]!;
    for (; parent[at] !== TERMINAL; at += offset[parent[at]!]!) most = Math.min(most, arcs[4 * at + parent[at]!]!);
    most = Math.min(most, -terminal[at]!);

    const q = p + offset[d]!;
    arcs[4 * p + d]! -= most;
    arcs[4 * q + back[d]!]! += most;
    at = p;
    while (parent[at] !== TERMINAL) {
      const dir = parent[at]!;
      const up = at + offset[dir]!;
      arcs[4 * at + dir]! += most;
      arcs[4 * up + back[dir]!]! -= most;
      if (arcs[4 * up + back[dir]!]! < TINY) {
        arcs[4 * up + back[dir]!] = 0;
        parent[at] = ORPHAN;
        orphans.push(at);
      }
      at = up;
    }
    terminal[at]! -= most;
    if (terminal[at]! < TINY) {
      terminal[at] = 0;
      parent[at] = ORPHAN;
      orphans.push(at);
    }
    at = q;
    while (parent[at] !== TERMINAL) {
      const dir = parent[at]!;
      const up = at + offset[dir]!;
      arcs[4 * up + back[dir]!]! += most;
      arcs[4 * at + dir]! -= most;
      if (arcs[4 * at + dir]! < TINY) {
        arcs[4 * at + dir] = 0;
        parent[at] = ORPHAN;
        orphans.push(at);
      }
      at = up;
    }
    terminal[at]! += most;
    if (-terminal[at]! < TINY) {
      terminal[at] = 0;
      parent[at] = ORPHAN;
      orphans.push(at);
    }
  };

  /** Steps to the terminal through live parents; −1 when the way ends at an orphan. */
  const depthOf = (p: number): number => {
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
      at += offset[dir]!;
    }
    let left = steps;
    for (at = p; stamp[at] !== time; at += offset[parent[at]!]!) {
      stamp[at] = time;
      distance[at] = left--;
    }
    return steps;
  };

  const adopt = (p: number): void => {
    const side = tree[p]!;
    let bestDir = -1;
    let bestDepth = Infinity;
    for (let d = 0; d < 4; d++) {
      if (!hasNeighbour(p, d)) continue;
      const q = p + offset[d]!;
      if (tree[q] !== side) continue;
      const room = side === FIRST ? arcs[4 * q + back[d]!]! : arcs[4 * p + d]!;
      if (room <= 0) continue;
      const depth = depthOf(q);
      if (depth >= 0 && depth < bestDepth) {
        bestDepth = depth;
        bestDir = d;
      }
    }
    if (bestDir >= 0) {
      parent[p] = bestDir;
      stamp[p] = time;
      distance[p] = bestDepth + 1;
      return;
    }
    for (let d = 0; d < 4; d++) {
      if (!hasNeighbour(p, d)) continue;
      const q = p + offset[d]!;
      if (tree[q] !== side) continue;
      const room = side === FIRST ? arcs[4 * q + back[d]!]! : arcs[4 * p + d]!;
      if (room > 0) activate(q);
      const dir = parent[q]!;
      if (dir >= 0 && dir < TERMINAL && q + offset[dir]! === p) {
        parent[q] = ORPHAN;
        orphans.push(q);
      }
    }
    tree[p] = FREE;
    parent[p] = NO_PARENT;
  };

  for (let current = takeActive(); current >= 0;) {
    const side = tree[current]!;
    let meetFrom = -1;
    let meetDir = -1;
    for (let d = 0; d < 4 && meetFrom < 0; d++) {
      if (!hasNeighbour(current, d)) continue;
      const q = current + offset[d]!;
      const room = side === FIRST ? arcs[4 * current + d]! : arcs[4 * q + back[d]!]!;
      if (room <= 0) continue;
      if (tree[q] === FREE) {
        tree[q] = side;
        parent[q] = back[d]!;
        stamp[q] = stamp[current]!;
        distance[q] = distance[current]! + 1;
        activate(q);
      } else if (tree[q] !== side) {
        meetFrom = side === FIRST ? current : q;
        meetDir = side === FIRST ? d : back[d]!;
      }
    }
    time++;
    if (meetFrom < 0) {
      current = takeActive();
      continue;
    }
    augment(meetFrom, meetDir);
    while (orphans.length > 0) {
      const waiting = orphans;
      orphans = [];
      for (const p of waiting) adopt(p);
    }
    if (parent[current] === NO_PARENT) current = takeActive();
  }
  return Uint8Array.from(tree, (t) => (t === FIRST ? 0 : 1));
}
