// Light of neighbouring frames brought together: a gain per frame and channel, and the lens's vignetting.
import { LuDecomposition, Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { quantile } from '../image';
import { lightPolynomial } from './lightPolynomial';

/** One place as two frames show it: light of R, G, B (linear, above 0), and its distance from each middle (1 = half the diagonal). */
export interface LightPair {
  readonly i: number;
  readonly j: number;
  readonly a: readonly [number, number, number];
  readonly b: readonly [number, number, number];
  readonly radiusA: number;
  readonly radiusB: number;
}

export interface FrameLight {
  /** Per frame: what its R, G, B must be multiplied by, linear light. */
  readonly gains: readonly (readonly [number, number, number])[];
  /** Light at radius r against the middle: 1 + v1·r² + v2·r⁴. */
  readonly vignetting: readonly [number, number];
  /** Median step between frames that is left, as a share. */
  readonly residual: number;
}

const ROUNDS = 6;
/** Prior sigma of a gain against 1, and of the vignetting's coefficients, in logarithms: what holds frames without overlap. */
const GAIN_DOUBT = 1;
const VIGNETTING_DOUBT = 0.4;
/** Scatter of one pair, log: texture, noise, misplacement. */
const SCATTER = 0.05;

/**
 * Fits log light: a + g(i) − v(r) = b + g(j) − v(r), robust, per channel; the vignetting is common to all channels.
 * @param count number of frames
 * @param corrects whether vignetting is looked for; false keeps it 0
 * @throws ParameterError when a pair names a frame that is not there
 * Source: D. B. Goldman, IEEE PAMI 32(12), 2010 (exposure and even vignetting polynomial from overlapping frames).
 */
export function fitGains(count: number, pairs: readonly LightPair[], corrects = true): FrameLight {
  const stray = pairs.find((p) => p.i >= count || p.j >= count);
  if (stray) throw badParameter('fitGains.pairs', `frames below ${count}`, [stray.i, stray.j]);
  const free = corrects ? 2 : 0;
  const size = 3 * count + free;
  const rows = pairs.flatMap((p) =>
    [0, 1, 2].map((c) => ({
      i: 3 * p.i + c,
      j: 3 * p.j + c,
      step: Math.log(p.b[c]!) - Math.log(p.a[c]!),
      q: p.radiusB ** 2 - p.radiusA ** 2,
      s: p.radiusB ** 4 - p.radiusA ** 4,
    })),
  );
  let x = new Array<number>(size).fill(0);
  let residual = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const off = rows.map((r) => reprojectionError(r, x, count, free));
    residual = rows.length === 0 ? 0 : quantile(off.map(Math.abs), 0.5);
    const cut = round === 0 ? Infinity : 4.685 * Math.max(0.004, 1.4826 * residual);
    const normal = Matrix.zeros(size, size);
    const right = Matrix.zeros(size, 1);
    const add = (columns: readonly number[], values: readonly number[], target: number, weight: number): void => {
      columns.forEach((r, m) => {
        right.set(r, 0, right.get(r, 0) + weight * values[m]! * target);
        columns.forEach((c, n) => normal.set(r, c, normal.get(r, c) + weight * values[m]! * values[n]!));
      });
    };
    rows.forEach((r, n) => {
      const u = off[n]! / cut;
      if (Math.abs(u) >= 1) return;
      const weight = (1 - u * u) ** 2 / SCATTER ** 2;
      // g(i) − g(j) − v(ra) + v(rb) = log b − log a
      if (free) add([r.i, r.j, 3 * count, 3 * count + 1], [1, -1, r.q, r.s], r.step, weight);
      else add([r.i, r.j], [1, -1], r.step, weight);
    });
    for (let k = 0; k < 3 * count; k++) add([k], [1], 0, 1 / GAIN_DOUBT ** 2);
    for (let k = 3 * count; k < size; k++) add([k], [1], 0, 1 / VIGNETTING_DOUBT ** 2);
    if (new LuDecomposition(normal).isSingular()) break;
    x = solve(normal, right).getColumn(0);
  }
  // log(1 + v1·q + v2·q²) ≈ p·q + s·q²: the coefficients of light follow from those of its logarithm.
  const [p, s] = free ? [x[3 * count]!, x[3 * count + 1]!] : [0, 0];
  return {
    gains: Array.from(
      { length: count },
      (_, k) => [Math.exp(x[3 * k]!), Math.exp(x[3 * k + 1]!), Math.exp(x[3 * k + 2]!)] as const,
    ),
    vignetting: lightPolynomial(p, s),
    residual,
  };
}

interface Row {
  readonly i: number;
  readonly j: number;
  readonly step: number;
  readonly q: number;
  readonly s: number;
}

function reprojectionError(r: Row, x: readonly number[], count: number, free: number): number {
  const vignetting = free ? r.q * x[3 * count]! + r.s * x[3 * count + 1]! : 0;
  return x[r.i]! - x[r.j]! + vignetting - r.step;
}
