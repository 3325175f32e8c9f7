// Which corner of one picture is which of another.
import type { KeyPoint } from './findPoints';

/** A pair of points that look alike: indices into both lists. */
export interface PointMatch {
  readonly a: number;
  readonly b: number;
}

/** How much nearer the best must be than the next best, as a ratio of squared distances (D. G. Lowe, IJCV 60(2), 2004). */
const RATIO = 0.72;
const SAME_PLACE_PX = 6;

/**
 * Pairs points of two pictures that are each other's best likeness and clearly better than the next.
 * Cost: 64 multiplications per pair of points.
 */
export function matchPoints(a: readonly KeyPoint[], b: readonly KeyPoint[]): PointMatch[] {
  const forward = bestOf(a, b);
  const back = bestOf(b, a);
  return forward.flatMap((best, i) => (best >= 0 && back[best] === i ? [{ a: i, b: best }] : []));
}

function bestOf(a: readonly KeyPoint[], b: readonly KeyPoint[]): number[] {
  return a.map((p) => {
    let best = -1;
    let first = -2;
    let second = -2;
    for (let j = 0; j < b.length; j++) {
      const q = b[j]!;
      let dot = 0;
      const u = p.descriptor;
      const v = q.descriptor;
      for (let n = 0; n < 64; n += 4)
        dot += u[n]! * v[n]! + u[n + 1]! * v[n + 1]! + u[n + 2]! * v[n + 2]! + u[n + 3]! * v[n + 3]!;
      if (dot > first) {
        // The same corner on another level is no rival.
        if (best < 0 || Math.abs(b[best]!.x - q.x) + Math.abs(b[best]!.y - q.y) > SAME_PLACE_PX) second = first;
        first = dot;
        best = j;
      } else if (dot > second && Math.abs(b[best]!.x - q.x) + Math.abs(b[best]!.y - q.y) > SAME_PLACE_PX) second = dot;
    }
    return best >= 0 && 1 - first < RATIO * (1 - second) ? best : -1;
  });
}
