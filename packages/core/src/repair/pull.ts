// The picture pulled about within a place: a cable that meets itself again, a pole made straight, a thing nudged. Nothing is painted in.
import { badParameter } from '../checks';
import type { Region } from '../image';

/** A place and by how much what is seen there moves, merge px to the right and down. */
export type PullKnot = readonly [x: number, y: number, dx: number, dy: number];

/** Moves what lies along a polyline, and less and less of what lies beside it. */
export interface Pull {
  /** In order along the polyline; a single one moves a round place. */
  readonly knots: readonly PullKnot[];
  /** Beyond this nothing moves, merge px. */
  readonly reachPx: number;
}

/** What moves alone, within this share of the reach; from there to the reach it moves less and less. */
const FULL_SHARE = 0.25;
/** Steepest slope of the smooth step from one to nothing, per its own width. */
const STEEPEST = 1.5;
/** The picture is squeezed to this share of its width at most: more would fold it over. */
const LEAST_WIDTH = 0.3;

/** The farthest that a reach can move something without squeezing what lies beside it too much, merge px. */
export function mostPull(reachPx: number): number {
  return ((1 - LEAST_WIDTH) * (1 - FULL_SHARE) * reachPx) / STEEPEST;
}

/** The least reach by which something can be moved so far, merge px. */
export function reachFor(movePx: number): number {
  return Math.ceil((movePx * STEEPEST) / ((1 - LEAST_WIDTH) * (1 - FULL_SHARE)));
}

/** By how much a pull moves what it moves most, merge px. */
export function pullLength({ knots }: Pull): number {
  return Math.max(...knots.map(([, , dx, dy]) => Math.hypot(dx, dy)));
}

/** The part of the merge that a pull can change. */
export function pullRegion({ knots, reachPx }: Pull): Region {
  const [xs, ys] = [knots.map((k) => k[0]), knots.map((k) => k[1])];
  const [x, y] = [Math.floor(Math.min(...xs) - reachPx), Math.floor(Math.min(...ys) - reachPx)];
  return { x, y, width: Math.ceil(Math.max(...xs) + reachPx) - x, height: Math.ceil(Math.max(...ys) + reachPx) - y };
}

/**
 * Pulls a picture about.
 * @param planes of a picture that covers `from`, changed nowhere
 * @param from in merge px divided by scale; has to reach `pullLength` and 2 px beyond what of `region` moves
 * @param out planes that cover `region`, which lies within `from`; what does not move is left as it is there
 * @param scale merge px per px of the planes
 * @throws ParameterError for a pull that would fold the picture over
 * Cost: 150 ns per px within reach.
 */
export function pullPlanes(
  planes: readonly Float32Array[],
  from: Region,
  out: readonly Float32Array[],
  region: Region,
  pull: Pull,
  scale = 1,
): void {
  checkPull(pull);
  const whole = pullRegion(pull);
  const [left, top] = [from.x - region.x, from.y - region.y].map(Math.round) as [number, number];
  const x0 = Math.max(0, Math.floor(whole.x / scale - region.x));
  const y0 = Math.max(0, Math.floor(whole.y / scale - region.y));
  const x1 = Math.min(region.width, Math.ceil((whole.x + whole.width) / scale - region.x));
  const y1 = Math.min(region.height, Math.ceil((whole.y + whole.height) / scale - region.y));
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      const move = moveAt(pull, (region.x + x + 0.5) * scale, (region.y + y + 0.5) * scale);
      if (!move) continue;
      // What is seen here came from where it has been moved away.
      const u = x - left - move[0] / scale;
      const v = y - top - move[1] / scale;
      planes.forEach((plane, c) => {
        out[c]![y * region.width + x] = sampleCubic(plane, from.width, from.height, u, v);
      });
    }
}

/** By how much what is seen at a place has moved, merge px; null where nothing has. */
function moveAt({ knots, reachPx }: Pull, x: number, y: number): [dx: number, dy: number] | null {
  let nearest = reachPx;
  let move: [number, number] | null = null;
  for (let k = 0; k < Math.max(1, knots.length - 1); k++) {
    const a = knots[k]!;
    const b = knots[Math.min(k + 1, knots.length - 1)]!;
    const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
    const length2 = ex * ex + ey * ey;
    const t = length2 > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * ex + (y - a[1]) * ey) / length2)) : 0;
    const distance = Math.hypot(x - a[0] - t * ex, y - a[1] - t * ey);
    if (distance >= nearest) continue;
    nearest = distance;
    move = [a[2] + t * (b[2] - a[2]), a[3] + t * (b[3] - a[3])];
  }
  if (!move) return null;
  const share = Math.max(0, nearest / reachPx - FULL_SHARE) / (1 - FULL_SHARE);
  const weight = 1 - share * share * (3 - 2 * share);
  return [weight * move[0], weight * move[1]];
}

/** Catmull and Rom's cubic through samples at whole numbers; beyond the rim as at it. */
function sampleCubic(plane: Float32Array, width: number, height: number, u: number, v: number): number {
  const [i, j] = [Math.floor(u), Math.floor(v)];
  const [wx, wy] = [cubicWeights(u - i), cubicWeights(v - j)];
  let sum = 0;
  for (let n = 0; n < 4; n++) {
    const row = Math.min(height - 1, Math.max(0, j - 1 + n)) * width;
    let line = 0;
    for (let m = 0; m < 4; m++) line += wx[m]! * plane[row + Math.min(width - 1, Math.max(0, i - 1 + m))]!;
    sum += wy[n]! * line;
  }
  return sum;
}

/** Source: R. Keys, "Cubic convolution interpolation for digital image processing", IEEE ASSP 29 (1981), a = −1/2. */
function cubicWeights(t: number): readonly [number, number, number, number] {
  const [t2, t3] = [t * t, t * t * t];
  return [0.5 * (-t3 + 2 * t2 - t), 0.5 * (3 * t3 - 5 * t2 + 2), 0.5 * (-3 * t3 + 4 * t2 + t), 0.5 * (t3 - t2)];
}

/**
 * Checks a pull.
 * @throws ParameterError for one without knots, of a reach beyond 2 to 500 px, or that would fold the picture over
 */
export function checkPull(pull: Pull): void {
  const { knots, reachPx } = pull;
  if (knots.length === 0) throw badParameter('pull.knots.length', 'at least 1', 0);
  if (!(reachPx >= 2 && reachPx <= 500)) throw badParameter('pull.reachPx', '2 to 500', reachPx);
  const [length, most] = [pullLength(pull), mostPull(reachPx)];
  if (!(length <= most + 1e-6))
    throw badParameter('pull.knots', `moves of ${most.toFixed(1)} px at most within a reach of ${reachPx} px`, length);
}
