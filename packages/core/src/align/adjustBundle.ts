// All cameras of a panorama at once: rotations, focal length and lens distortion that agree best with all ties.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { composeMatrix, type Matrix3, type FrameSize } from '../frame';
import { rotationBy, turned } from './rotations';
import {
  evenedOut,
  reprojectionError,
  outlyingness,
  project,
  robustCuts,
  type Cuts,
  type Tie,
  type Unknowns,
  type WeighedTie,
} from './reprojectionError';

/** The cameras of a set: one lens, turned. */
export interface CameraRig {
  /** World → camera, per frame. */
  readonly rotations: readonly Matrix3[];
  /** Focal length per frame, px. */
  readonly focalPx: readonly number[];
  readonly distortion: readonly [number, number];
}

export interface AdjustOptions {
  /** Frame whose rotation is kept; default 0. */
  readonly reference?: number;
  /** How far the focal length may be off, standard deviation as a share; default 0.3. */
  readonly focalSigma?: number;
  /** The same for a single frame against the others; default 0.0004: a lens that is not touched keeps its focus. */
  readonly frameFocalSigma?: number;
  /** Prior sigma of the distortion's coefficients; 0 keeps them; default 0.05. */
  readonly distortionSigma?: number;
  /** Ties nearer than this always count, px: what registration can err; default 0.4. */
  readonly leastCutPx?: number;
  /** Steps at most; default 25. */
  readonly iterations?: number;
}

export interface AdjustedRig extends CameraRig {
  /** Distance by which each tie misses, px of its frame j. */
  readonly residualPx: Float64Array;
}

const STEP = 1e-6;

/**
 * Levenberg–Marquardt over all ties, robust by Tukey's biweight.
 * @param sizes of the frames, px; the optical axis goes through the middle
 * @param start rotations good to a few degrees
 * @param given ties of overlapping pairs
 * @throws ParameterError when there are no ties or numbers disagree
 * Cost: ties × 10 projections and one solve of (4·frames + 3)² per step.
 * Source: B. Triggs et al., Vision Algorithms 1999 (bundle adjustment); M. Brown and D. G. Lowe, IJCV 74(1), 2007.
 */
export function adjustBundle(
  sizes: readonly FrameSize[],
  start: CameraRig,
  given: readonly Tie[],
  options: AdjustOptions = {},
): AdjustedRig {
  const {
    reference = 0,
    focalSigma = 0.3,
    frameFocalSigma = 0.0004,
    distortionSigma = 0.05,
    leastCutPx = 0.4,
    iterations = 25,
  } = options;
  if (given.length === 0) throw badParameter('adjustBundle.ties', 'at least one tie', 0);
  if (start.rotations.length !== sizes.length)
    throw badParameter('adjustBundle.start.rotations', `${sizes.length} rotations`, start.rotations.length);
  const ties = evenedOut(given);
  const priors = { focalSigma, frameFocalSigma, distortionSigma };
  const startLog = start.focalPx.reduce((s, f) => s + Math.log(f), 0) / start.focalPx.length;
  let now: Unknowns = {
    rotations: [...start.rotations],
    logFocal: startLog,
    logRatio: start.focalPx.map((f) => Math.log(f) - startLog),
    k1: start.distortion[0],
    k2: start.distortion[1],
  };
  const origin = { logFocal: startLog, k1: 0, k2: 0 };
  let damping = 1e-3;
  let cut = robustCuts(sizes, ties, now, leastCutPx);
  let cost = costOf(sizes, ties, now, cut, priors, origin);
  for (let k = 0; k < iterations; k++) {
    const { normal, gradient } = assemble(sizes, ties, now, cut, reference, priors, origin);
    let better = false;
    for (let attempt = 0; attempt < 6 && !better; attempt++) {
      const trial = step(now, normal, gradient, damping);
      const trialCost = costOf(sizes, ties, trial, cut, priors, origin);
      if (trialCost < cost) {
        const gain = (cost - trialCost) / cost;
        now = trial;
        cost = trialCost;
        damping = Math.max(1e-9, damping / 5);
        better = gain > 1e-7;
        if (!better) attempt = 6;
      } else damping *= 8;
    }
    const narrower = robustCuts(sizes, ties, now, leastCutPx);
    const settled = !better && Math.abs(narrower.px - cut.px) < 1e-3 * cut.px;
    cut = narrower;
    cost = costOf(sizes, ties, now, cut, priors, origin);
    if (settled) break;
  }
  const residualPx = new Float64Array(ties.length);
  const e: [number, number] = [0, 0];
  ties.forEach((tie, n) => {
    residualPx[n] = reprojectionError(sizes, tie, now, e) ? Math.hypot(e[0], e[1]) : Infinity;
  });
  return {
    rotations: now.rotations,
    focalPx: now.logRatio.map((r) => Math.exp(now.logFocal + r)),
    distortion: [now.k1, now.k2],
    residualPx,
  };
}

type Priors = Required<Pick<AdjustOptions, 'focalSigma' | 'frameFocalSigma' | 'distortionSigma'>>;
type Origin = Pick<Unknowns, 'logFocal' | 'k1' | 'k2'>;

function costOf(
  sizes: readonly FrameSize[],
  ties: readonly WeighedTie[],
  at: Unknowns,
  cut: Cuts,
  { focalSigma, frameFocalSigma, distortionSigma }: Priors,
  origin: Origin,
): number {
  const e: [number, number] = [0, 0];
  const top = cut.deviations ** 2 / 6;
  let sum = 0;
  for (const t of ties) {
    const q = reprojectionError(sizes, t, at, e) ? outlyingness(t, e, cut) : 1;
    sum += t.worth * (q >= 1 ? top : top * (1 - (1 - q) ** 3));
  }
  sum += 0.5 * ((at.logFocal - origin.logFocal) / focalSigma) ** 2;
  for (const r of at.logRatio) sum += 0.5 * (r / frameFocalSigma) ** 2;
  if (distortionSigma > 0) sum += 0.5 * ((at.k1 ** 2 + at.k2 ** 2) / distortionSigma ** 2);
  return sum;
}

/** Unknowns in order: three turns per frame, a focal ratio per frame, focal length, k1, k2. */
function assemble(
  sizes: readonly FrameSize[],
  ties: readonly WeighedTie[],
  at: Unknowns,
  cut: Cuts,
  reference: number,
  { focalSigma, frameFocalSigma, distortionSigma }: Priors,
  origin: Origin,
): { normal: Matrix; gradient: Matrix } {
  const n = sizes.length;
  const size = 4 * n + 3;
  const normal = Matrix.zeros(size, size);
  const gradient = Matrix.zeros(size, 1);
  const base: [number, number] = [0, 0];
  const moved: [number, number] = [0, 0];
  const turns = [0, 1, 2].map((axis) => {
    const by: [number, number, number] = [0, 0, 0];
    by[axis] = STEP;
    return rotationBy(by);
  });
  const nudged = at.rotations.map((r) => turns.map((t) => composeMatrix(t, r)));
  for (const t of ties) {
    const { i, j } = t;
    if (!reprojectionError(sizes, t, at, base)) continue;
    const q = outlyingness(t, base, cut);
    if (q >= 1) continue;
    const weight = t.worth * (1 - q) ** 2;
    const fi = Math.exp(at.logFocal + at.logRatio[i]!);
    const fj = Math.exp(at.logFocal + at.logRatio[j]!);
    const ri = at.rotations[i]!;
    const rj = at.rotations[j]!;
    const a = sizes[i]!;
    const b = sizes[j]!;
    const columns: number[] = [];
    const gx: number[] = [];
    const gy: number[] = [];
    const add = (column: number, ok: boolean): void => {
      columns.push(column);
      gx.push(ok ? (moved[0] - base[0]) / STEP : 0);
      gy.push(ok ? (moved[1] - base[1]) / STEP : 0);
    };
    for (let axis = 0; axis < 3; axis++) {
      if (i !== reference) add(3 * i + axis, project(a, b, t, nudged[i]![axis]!, rj, fi, fj, at.k1, at.k2, moved));
      if (j !== reference) add(3 * j + axis, project(a, b, t, ri, nudged[j]![axis]!, fi, fj, at.k1, at.k2, moved));
    }
    const grown = 1 + STEP;
    add(3 * n + i, project(a, b, t, ri, rj, fi * grown, fj, at.k1, at.k2, moved));
    add(3 * n + j, project(a, b, t, ri, rj, fi, fj * grown, at.k1, at.k2, moved));
    add(4 * n, project(a, b, t, ri, rj, fi * grown, fj * grown, at.k1, at.k2, moved));
    if (distortionSigma > 0) {
      add(4 * n + 1, project(a, b, t, ri, rj, fi, fj, at.k1 + STEP, at.k2, moved));
      add(4 * n + 2, project(a, b, t, ri, rj, fi, fj, at.k1, at.k2 + STEP, moved));
    }
    for (let p = 0; p < columns.length; p++) {
      const hx = weight * (t.hxx * gx[p]! + t.hxy * gy[p]!);
      const hy = weight * (t.hxy * gx[p]! + t.hyy * gy[p]!);
      const row = columns[p]!;
      gradient.set(row, 0, gradient.get(row, 0) - hx * base[0] - hy * base[1]);
      for (let c = 0; c < columns.length; c++) {
        const column = columns[c]!;
        normal.set(row, column, normal.get(row, column) + hx * gx[c]! + hy * gy[c]!);
      }
    }
  }
  const hold = (k: number, sigma: number, off: number): void => {
    normal.set(k, k, normal.get(k, k) + 1 / sigma ** 2);
    gradient.set(k, 0, gradient.get(k, 0) - off / sigma ** 2);
  };
  for (let k = 0; k < n; k++) hold(3 * n + k, frameFocalSigma, at.logRatio[k]!);
  hold(4 * n, focalSigma, at.logFocal - origin.logFocal);
  for (const [k, v] of [
    [4 * n + 1, at.k1],
    [4 * n + 2, at.k2],
  ] as const)
    hold(k, distortionSigma > 0 ? distortionSigma : 1, distortionSigma > 0 ? v : 0);
  for (let axis = 0; axis < 3; axis++) hold(3 * reference + axis, 1, 0);
  return { normal, gradient };
}

function step(at: Unknowns, normal: Matrix, gradient: Matrix, damping: number): Unknowns {
  const n = at.rotations.length;
  const damped = normal.clone();
  for (let k = 0; k < damped.rows; k++) damped.set(k, k, damped.get(k, k) * (1 + damping) + 1e-9);
  const d = solve(damped, gradient).getColumn(0);
  return {
    rotations: at.rotations.map((r, k) => turned(r, [d[3 * k]!, d[3 * k + 1]!, d[3 * k + 2]!])),
    logFocal: at.logFocal + d[4 * n]!,
    logRatio: at.logRatio.map((r, k) => r + d[3 * n + k]!),
    k1: at.k1 + d[4 * n + 1]!,
    k2: at.k2 + d[4 * n + 2]!,
  };
}
