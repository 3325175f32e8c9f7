// One map per frame of a set, from ties between neighbours, with as many freedoms as asked for.
import { quantile } from '../image';
import { fitPlane, type PlaneModel, type PlaneTie } from './fitPlane';
import { applyMatrix, invertMatrix, invertSimilarity, type Matrix3, type Similarity, similarityMatrix } from '../frame';

/** Ties between two frames: (x, y) in frame `from`, (u, v) in frame `to`. */
export interface TiedPair {
  readonly from: number;
  readonly to: number;
  readonly ties: readonly PlaneTie[];
}

export interface SolvedPlanes {
  /** Reference px → frame px, per frame. */
  readonly toFrame: readonly Matrix3[];
  /** Median distance of each frame's ties from where the maps put them, weighted by information, px. */
  readonly residualPx: readonly number[];
}

const SWEEPS = 3;

/**
 * Fits each frame's map to its neighbours in turn, outwards from the reference, then some sweeps with all neighbours
 * (block-wise Gauss–Seidel of the joint least squares).
 * @param start frame px → reference px, good to a few px
 * @param width, height of the frames, px
 * Cost: a robust fit of each frame's ties, four times.
 */
export function solvePlanes(
  reference: number,
  start: readonly Similarity[],
  pairs: readonly TiedPair[],
  model: PlaneModel,
  width: number,
  height: number,
): SolvedPlanes {
  const toFrame = start.map((s) => similarityMatrix(invertSimilarity(s)));
  const order = outwards(reference, start.length, pairs);
  const placed = new Set([reference]);
  for (let sweep = 0; sweep <= SWEEPS; sweep++) {
    for (const k of order) {
      if (k === reference) continue;
      const ties = tiesTo(k, pairs, toFrame, sweep === 0 ? placed : null);
      placed.add(k);
      if (ties.length >= LEAST_TIES) toFrame[k] = fitPlane(ties, model, width, height).matrix;
    }
  }
  return { toFrame, residualPx: residuals(toFrame, pairs) };
}

/** Frames by how many pairs lie between them and the reference; those that no pair reaches last. */
function outwards(reference: number, count: number, pairs: readonly TiedPair[]): number[] {
  const order = [reference];
  for (const at of order) {
    for (const { from, to } of pairs) {
      const next = from === at ? to : to === at ? from : null;
      if (next !== null && !order.includes(next)) order.push(next);
    }
  }
  for (let k = 0; k < count; k++) if (!order.includes(k)) order.push(k);
  return order;
}

/** With fewer ties a frame stays where the start put it. */
const LEAST_TIES = 16;

/** Reference px → px of frame k, by every neighbour's ties (or only by those of `among`). */
function tiesTo(
  k: number,
  pairs: readonly TiedPair[],
  toFrame: readonly Matrix3[],
  among: ReadonlySet<number> | null,
): PlaneTie[] {
  return pairs.flatMap(({ from, to, ties }): PlaneTie[] => {
    if (from !== k && to !== k) return [];
    const other = from === k ? to : from;
    if (among && !among.has(other)) return [];
    const back = invertMatrix(toFrame[other]!);
    return ties.map((t) => {
      const here = from === k ? [t.x, t.y] : [t.u, t.v];
      const [x, y] = from === k ? applyMatrix(back, t.u, t.v) : applyMatrix(back, t.x, t.y);
      return { x, y, u: here[0]!, v: here[1]!, weight: t.weight };
    });
  });
}

function residuals(toFrame: readonly Matrix3[], pairs: readonly TiedPair[]): number[] {
  const inverse = toFrame.map(invertMatrix);
  const off = toFrame.map((): number[] => []);
  for (const { from, to, ties } of pairs) {
    for (const t of ties) {
      const [x, y] = applyMatrix(inverse[from]!, t.x, t.y);
      const [u, v] = applyMatrix(toFrame[to]!, x, y);
      const distance = Math.hypot(u - t.u, v - t.v);
      off[from]!.push(distance);
      off[to]!.push(distance);
    }
  }
  return off.map((d) => (d.length === 0 ? NaN : quantile(d, 0.5)));
}
