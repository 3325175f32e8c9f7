// Which corner of one picture is which of another.
import { scalarProducts, type Kernels } from '../kernels';
import type { KeyPoint } from './findPoints';

/** A pair of points that look alike: indices into both lists. */
export interface PointMatch {
  readonly a: number;
  readonly b: number;
}

/** How much nearer the best must be than the next best, as a ratio of squared distances (D. G. Lowe, IJCV 60(2), 2004). */
const RATIO = 0.72;
const SAME_PLACE_PX = 6;

/** Values of a descriptor. */
const LENGTH = 64;

/**
 * Pairs points of two pictures that are each other's best likeness and clearly better than the next.
 * Cost: some 10 ns per pair of points.
 */
export function matchPoints(kernels: Kernels, a: readonly KeyPoint[], b: readonly KeyPoint[]): PointMatch[] {
  const [forward, back] = [new Rivals(b, a.length), new Rivals(a, b.length)];
  scalarProducts(kernels, packed(a), packed(b), LENGTH, (i, products) => {
    for (let j = 0; j < products.length; j++) {
      const dot = products[j]!;
      if (dot > forward.second[i]!) forward.enter(i, j, dot);
      if (dot > back.second[j]!) back.enter(j, i, dot);
    }
  });
  return a.flatMap((_, i): PointMatch[] => {
    const j = forward.winner(i);
    return j >= 0 && back.winner(j) === i ? [{ a: i, b: j }] : [];
  });
}

/** All descriptors one after the other. */
function packed(points: readonly KeyPoint[]): Float32Array {
  const out = new Float32Array(points.length * LENGTH);
  points.forEach((p, i) => out.set(p.descriptor, i * LENGTH));
  return out;
}

/** For each of so many points, which of others is likest, and how like it and the next are. */
class Rivals {
  private readonly best: Int32Array;
  private readonly first: Float64Array;
  readonly second: Float64Array;

  constructor(
    private readonly others: readonly KeyPoint[],
    count: number,
  ) {
    this.best = new Int32Array(count).fill(-1);
    this.first = new Float64Array(count).fill(-2);
    this.second = new Float64Array(count).fill(-2);
  }

  enter(point: number, other: number, dot: number): void {
    const best = this.best[point]!;
    // The same corner on another level is no rival.
    const isOther = best < 0 || distance(this.others[best]!, this.others[other]!) > SAME_PLACE_PX;
    if (dot > this.first[point]!) {
      if (isOther) this.second[point] = this.first[point]!;
      this.first[point] = dot;
      this.best[point] = other;
    } else if (isOther) this.second[point] = dot;
  }

  /** −1 where none is clearly better than the next. */
  winner(point: number): number {
    return 1 - this.first[point]! < RATIO * (1 - this.second[point]!) ? this.best[point]! : -1;
  }
}

function distance(p: KeyPoint, q: KeyPoint): number {
  return Math.abs(p.x - q.x) + Math.abs(p.y - q.y);
}
