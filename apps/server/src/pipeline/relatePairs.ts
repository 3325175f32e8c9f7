// Within aligning panoramas: which frames show the same, and what hangs together.
import { NO_TURN, transposed, type KeyPoint, type Tie } from '@blendrak/core/align';
import { composeMatrix, type FrameSize, type Matrix3 } from '@blendrak/core/frame';
import type { RelatedFrames } from '../jobs';
import { inParallel, type StepContext } from './types';

/** Pairs that one task compares; of large sets more, as their frames travel to it. */
const PAIRS_PER_TASK = 12;
const MANY_FRAMES = 24;

/** Two frames that show the same, by their numbers. */
export interface Edge extends RelatedFrames {
  readonly i: number;
  readonly j: number;
}

/** A frame by its corners. */
export interface PointedFrame {
  readonly points: readonly KeyPoint[];
  readonly size: FrameSize;
}

/** All pairs: rows of a panorama meet in any order. */
export function allPairs(count: number): [number, number][] {
  const pairs: [number, number][] = [];
  for (let i = 0; i < count; i++) for (let j = i + 1; j < count; j++) pairs.push([i, j]);
  return pairs;
}

/** Compares pairs of frames. */
export async function relatePairs(
  frames: readonly PointedFrame[],
  pairs: readonly (readonly [number, number])[],
  how: { readonly focalPx: readonly number[]; readonly guided: boolean },
  context: StepContext,
): Promise<Edge[]> {
  const chunk = frames.length > MANY_FRAMES ? 4 * PAIRS_PER_TASK : PAIRS_PER_TASK;
  const chunks = Array.from({ length: Math.ceil(pairs.length / chunk) }, (_, n) =>
    pairs.slice(n * chunk, (n + 1) * chunk),
  );
  let done = 0;
  const found = await inParallel(chunks, context.parallel, async (some) => {
    // Only the frames of these pairs travel to the worker.
    const there = [...new Set(some.flat())];
    const place = new Map(there.map((k, n) => [k, n]));
    const results = await context.run(
      'relate',
      {
        frames: there.map((k) => frames[k]!),
        pairs: some.map(([i, j]) => [place.get(i)!, place.get(j)!] as const),
        ...how,
      },
      context.signal,
    );
    done += some.length;
    context.onProgress(0.2 + (0.25 * done) / pairs.length, `compared ${done} of ${pairs.length} pairs`);
    return results.flatMap((r, n): Edge[] => (r ? [{ ...r, i: some[n]![0], j: some[n]![1] }] : []));
  });
  return found.flat();
}

/** The largest group of frames that hang together. */
export function largestGroup(count: number, edges: readonly Edge[]): number[] {
  const group = Array.from({ length: count }, (_, k) => k);
  const rootOf = (k: number): number => (group[k] === k ? k : (group[k] = rootOf(group[k]!)));
  for (const { i, j } of edges) group[rootOf(i)] = rootOf(j);
  const members = new Map<number, number[]>();
  for (let k = 0; k < count; k++) members.set(rootOf(k), [...(members.get(rootOf(k)) ?? []), k]);
  return [...members.values()].reduce((best, m) => (m.length > best.length ? m : best));
}

/** The frame with most agreeing corners: the others are placed around it. */
export function busiest(count: number, edges: readonly Edge[]): number {
  const sums = new Array<number>(count).fill(0);
  for (const { i, j, places } of edges) {
    sums[i]! += places.length;
    sums[j]! += places.length;
  }
  return sums.indexOf(Math.max(...sums));
}

/** World → camera for each frame along the strongest pairs. */
export function chainRotations(count: number, reference: number, edges: readonly Edge[]): Matrix3[] {
  const rotations = new Array<Matrix3 | null>(count).fill(null);
  rotations[reference] = NO_TURN;
  for (let placed = 1; placed < count; placed++) {
    let best: Edge | null = null;
    for (const e of edges) {
      if ((rotations[e.i] === null) === (rotations[e.j] === null)) continue;
      if (!best || e.places.length > best.places.length) best = e;
    }
    if (!best) break;
    const { i, j, rotation } = best;
    if (rotations[i]) rotations[j] = composeMatrix(rotation, rotations[i]);
    else rotations[i] = composeMatrix(transposed(rotation), rotations[j]!);
  }
  return rotations.map((r) => r ?? NO_TURN);
}

/** Corners are good to about a px of the picture they were found in. */
export function cornerTies(edges: readonly Edge[], unitPx: number): Tie[] {
  const h = 1 / (unitPx * unitPx);
  return edges.flatMap(({ i, j, places }) =>
    places.map(([x, y, u, v]): Tie => ({ i, j, x, y, u, v, hxx: h, hxy: 0, hyy: h })),
  );
}
