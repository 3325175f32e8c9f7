// Ties between turned frames: what each counts for, where cameras say it should lie, and when it is taken for a mistake.
import { quantile } from '../image';
import type { Matrix3, FrameSize } from '../frame';

/** A place seen in two frames. Information is the inverse covariance of (u, v), 1/px². */
export interface Tie {
  readonly i: number;
  readonly j: number;
  readonly x: number;
  readonly y: number;
  readonly u: number;
  readonly v: number;
  readonly hxx: number;
  readonly hxy: number;
  readonly hyy: number;
}

/** What is adjusted. */
export interface Unknowns {
  rotations: Matrix3[];
  logFocal: number;
  logRatio: number[];
  k1: number;
  k2: number;
}

const FARTHEST = 1.7;
/** A pair's ties share their errors (parallax, drift of the light): together they are worth no more than so many single ones. */
const TIES_WORTH = 60;
/** No tie is better than this, px: what blocks say of themselves is noise alone. */
const BEST_TIE_PX = 0.02;

/** A tie with what it counts for. */
export interface WeighedTie extends Tie {
  readonly worth: number;
}

/** Ties with their worth: none better than registration can be, and no pair heavier than others. */
export function evenedOut(ties: readonly Tie[]): WeighedTie[] {
  const counts = new Map<string, number>();
  const keyOf = (t: Tie): string => `${t.i} ${t.j}`;
  for (const t of ties) counts.set(keyOf(t), (counts.get(keyOf(t)) ?? 0) + 1);
  return ties.map((t) => {
    const trace = (t.hxx + t.hyy) / 2;
    const k = Math.min(1, 1 / (BEST_TIE_PX ** 2 * Math.max(1e-12, trace)));
    const worth = Math.min(1, TIES_WORTH / counts.get(keyOf(t))!);
    return { ...t, hxx: k * t.hxx, hxy: k * t.hxy, hyy: k * t.hyy, worth };
  });
}

/** Where frame j should show what frame i shows at the tie, minus where it does; false behind the camera. */
export function reprojectionError(sizes: readonly FrameSize[], tie: Tie, at: Unknowns, out: [number, number]): boolean {
  const { i, j } = tie;
  return project(
    sizes[i]!,
    sizes[j]!,
    tie,
    at.rotations[i]!,
    at.rotations[j]!,
    Math.exp(at.logFocal + at.logRatio[i]!),
    Math.exp(at.logFocal + at.logRatio[j]!),
    at.k1,
    at.k2,
    out,
  );
}

/** The tie's place in frame b by these cameras, minus where it was found; false behind the camera. */
export function project(
  a: FrameSize,
  b: FrameSize,
  tie: Tie,
  ra: Matrix3,
  rb: Matrix3,
  fa: number,
  fb: number,
  k1: number,
  k2: number,
  out: [number, number],
): boolean {
  const halfA = Math.sqrt(a.width * a.width + a.height * a.height) / 2;
  const dx = tie.x - a.width / 2;
  const dy = tie.y - a.height / 2;
  const drawn = Math.sqrt(dx * dx + dy * dy) / halfA;
  let r = drawn;
  if (k1 !== 0 || k2 !== 0) {
    for (let n = 0; n < 6; n++) {
      const q = r * r;
      const slope = 1 + q * (3 * k1 + 5 * q * k2);
      r -= (r * (1 + q * (k1 + q * k2)) - drawn) / (slope > 0.2 ? slope : 0.2);
    }
  }
  const k = drawn > 0 ? r / drawn : 1;
  const cx = (dx * k) / fa;
  const cy = (dy * k) / fa;
  const wx = ra[0] * cx + ra[3] * cy + ra[6];
  const wy = ra[1] * cx + ra[4] * cy + ra[7];
  const wz = ra[2] * cx + ra[5] * cy + ra[8];
  const z = rb[6] * wx + rb[7] * wy + rb[8] * wz;
  if (!(z > 1e-9)) return false;
  const sx = (fb * (rb[0] * wx + rb[1] * wy + rb[2] * wz)) / z;
  const sy = (fb * (rb[3] * wx + rb[4] * wy + rb[5] * wz)) / z;
  const square = (4 * (sx * sx + sy * sy)) / (b.width * b.width + b.height * b.height);
  if (square > FARTHEST * FARTHEST) return false;
  const d = 1 + square * (k1 + square * k2);
  out[0] = b.width / 2 + d * sx - tie.u;
  out[1] = b.height / 2 + d * sy - tie.v;
  return true;
}

/** Where ties stop counting: in standard deviations, and in px, whatever a tie says of itself. */
export interface Cuts {
  readonly deviations: number;
  readonly px: number;
}

/**
 * What moves as a whole (clouds, water) is soft: it says that it knows little, so it would never stand out by deviations alone.
 * It is told by distance, against the distance at which most of the information lies.
 */
export function robustCuts(
  sizes: readonly FrameSize[],
  ties: readonly WeighedTie[],
  at: Unknowns,
  leastPx: number,
): Cuts {
  const e: [number, number] = [0, 0];
  const far = ties.map((t) =>
    reprojectionError(sizes, t, at, e)
      ? { chi: Math.sqrt(chi(t, e)), px: Math.hypot(e[0], e[1]) }
      : { chi: 1e6, px: 1e6 },
  );
  const information = ties.map((t) => t.worth * (t.hxx + t.hyy));
  const order = far.map((_, n) => n).sort((p, q) => far[p]!.px - far[q]!.px);
  const half = information.reduce((s, v) => s + v, 0) / 2;
  let run = 0;
  const middle = order.find((n) => (run += information[n]!) >= half) ?? 0;
  return {
    deviations:
      4.685 *
      Math.max(
        0.3,
        1.4826 *
          quantile(
            far.map((f) => f.chi),
            0.5,
          ),
      ),
    px: Math.max(leastPx, 6 * far[middle]!.px),
  };
}

/** Share of the larger of both distances, as a square; 1 and more does not count. */
export function outlyingness(t: Tie, e: readonly [number, number], cuts: Cuts): number {
  return Math.max(chi(t, e) / cuts.deviations ** 2, (e[0] * e[0] + e[1] * e[1]) / cuts.px ** 2);
}

/** Squared distance in standard deviations. */
export function chi(t: Tie, [x, y]: readonly [number, number]): number {
  return Math.max(0, t.hxx * x * x + 2 * t.hxy * x * y + t.hyy * y * y);
}
