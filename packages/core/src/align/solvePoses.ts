// From pairwise similarities to one consistent transform per frame.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import type { Similarity } from '../frame';

/** A measured similarity that maps px of frame `from` to px of frame `to`, with a weight (0 = ignore). */
export interface PoseEdge {
  readonly from: number;
  readonly to: number;
  readonly transform: Similarity;
  readonly weight: number;
}

/**
 * Finds frame → reference transforms that agree best with all measured pairs (weighted least squares).
 * The complex factors are averaged in logarithms, then the shifts solve a linear system.
 * @param count number of frames
 * @param reference index of the frame whose transform is the identity
 * @param edges measured pairs; they must connect all frames
 * @returns per frame the similarity frame px → reference px
 * @throws ParameterError when a frame is connected to no other
 */
export function solvePoses(count: number, reference: number, edges: readonly PoseEdge[]): Similarity[] {
  checkConnected(count, reference, edges);
  const logs = [0, 1].map((part) =>
    leastSquares(count, reference, edges, (e) =>
      part === 0 ? Math.log(Math.hypot(e.transform.re, e.transform.im)) : Math.atan2(e.transform.im, e.transform.re),
    ),
  ) as [number[], number[]];
  // log T_from = log T_to + log M  for M: from → to.
  const factor = logs[0].map((l, i) => {
    const m = Math.exp(l);
    return { re: m * Math.cos(logs[1][i]!), im: m * Math.sin(logs[1][i]!) };
  });
  const tx = leastSquares(count, reference, edges, (e) => {
    const f = factor[e.to]!;
    return f.re * e.transform.tx - f.im * e.transform.ty;
  });
  const ty = leastSquares(count, reference, edges, (e) => {
    const f = factor[e.to]!;
    return f.im * e.transform.tx + f.re * e.transform.ty;
  });
  return factor.map((f, i) => ({ re: f.re, im: f.im, tx: tx[i]!, ty: ty[i]! }));
}

/** Solves value[from] − value[to] = difference(edge) with value[reference] = 0. */
function leastSquares(
  count: number,
  reference: number,
  edges: readonly PoseEdge[],
  difference: (edge: PoseEdge) => number,
): number[] {
  const normal = Matrix.zeros(count, count);
  const rhs = Matrix.zeros(count, 1);
  const add = (m: Matrix, r: number, c: number, v: number): void => {
    m.set(r, c, m.get(r, c) + v);
  };
  for (const e of edges) {
    const d = difference(e);
    add(normal, e.from, e.from, e.weight);
    add(normal, e.to, e.to, e.weight);
    add(normal, e.from, e.to, -e.weight);
    add(normal, e.to, e.from, -e.weight);
    add(rhs, e.from, 0, e.weight * d);
    add(rhs, e.to, 0, -e.weight * d);
  }
  for (let i = 0; i < count; i++) {
    normal.set(reference, i, i === reference ? 1 : 0);
  }
  rhs.set(reference, 0, 0);
  return solve(normal, rhs).getColumn(0);
}

function checkConnected(count: number, reference: number, edges: readonly PoseEdge[]): void {
  const reached = new Set([reference]);
  for (let grown = true; grown;) {
    grown = false;
    for (const e of edges) {
      if (e.weight > 0 && reached.has(e.from) !== reached.has(e.to)) {
        reached.add(e.from).add(e.to);
        grown = true;
      }
    }
  }
  for (let i = 0; i < count; i++) {
    if (!reached.has(i))
      throw badParameter(
        'solvePoses.edges',
        'pairs that connect every frame with the reference',
        `frame ${i} has none`,
      );
  }
}
