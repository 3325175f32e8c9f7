// Two pictures of which one shows the other at another size, turned or in perspective: which matched corners agree on that.
import { applyMatrix, type Matrix3 } from '../frame';
import type { KeyPoint } from './findPoints';
import { fitPlane, type PlaneTie } from './fitPlane';
import type { PointMatch } from './matchPoints';

export interface EstimatedHomography {
  /** px of a → px of b. */
  readonly matrix: Matrix3;
  /** Scale and turn (rad) of a in b at its middle. */
  readonly scale: number;
  readonly turnRad: number;
  readonly inliers: readonly PointMatch[];
}

const TRIALS = 800;
const LEAST_INLIERS = 9;
/** Matches that agree by chance on a similarity are fewer than this share. */
const LEAST_SHARE = 0.12;
/** A similarity is asked for so much less than the map that follows: a cylinder bends what it touches. */
const ROUGHLY = 2.5;
const TIES_FOR_HOMOGRAPHY = 24;

/**
 * Finds the map that most matches agree on (random sample consensus over a fixed sequence: Fischler and Bolles 1981).
 * @param tolerancePx how far from its place a match may lie, px of b
 * @param width, height of a, px
 * @returns null when no more agree than chance explains
 */
export function estimateHomography(
  a: readonly KeyPoint[],
  b: readonly KeyPoint[],
  matches: readonly PointMatch[],
  tolerancePx: number,
  width: number,
  height: number,
): EstimatedHomography | null {
  if (matches.length < LEAST_INLIERS) return null;
  const from = matches.map((m) => a[m.a]!);
  const to = matches.map((m) => b[m.b]!);
  const [fromX, fromY, toX, toY] = [from.map((p) => p.x), from.map((p) => p.y), to.map((p) => p.x), to.map((p) => p.y)];
  const roughly: AgreeingAll = {
    ...{ fromX: Float64Array.from(fromX), fromY: Float64Array.from(fromY) },
    ...{ toX: Float64Array.from(toX), toY: Float64Array.from(toY) },
    limitPx: ROUGHLY * tolerancePx,
  };
  let [count, re, im, pivot] = [0, 1, 0, 0];
  let state = 4711;
  const next = (): number => {
    // A linear congruential sequence: the same pictures give the same result.
    state = (state * 1103515245 + 12345) % 2147483648;
    return Math.floor((state / 2147483648) * matches.length);
  };
  for (let trial = 0; trial < TRIALS; trial++) {
    const [i, j] = [next(), next()];
    const [px, py] = [from[j]!.x - from[i]!.x, from[j]!.y - from[i]!.y];
    const [qx, qy] = [to[j]!.x - to[i]!.x, to[j]!.y - to[i]!.y];
    const length = px * px + py * py;
    if (!(length > 400)) continue;
    const [tryRe, tryIm] = [(px * qx + py * qy) / length, (px * qy - py * qx) / length];
    const agreeing = countAgreeing(roughly, i, tryRe, tryIm);
    if (agreeing > count) [count, re, im, pivot] = [agreeing, tryRe, tryIm, i];
  }
  let best = count === 0 ? [] : [...matches.keys()].filter((n) => agrees(roughly, n, pivot, re, im));
  const [scale, turnRad] = [Math.hypot(re, im), Math.atan2(im, re)];
  if (best.length < Math.max(LEAST_INLIERS, LEAST_SHARE * matches.length)) return null;
  const tieOf = (n: number): PlaneTie => ({
    ...{ x: from[n]!.x, y: from[n]!.y },
    ...{ u: to[n]!.x, v: to[n]!.y },
    weight: 1 / tolerancePx ** 2,
  });
  const fit = (chosen: readonly number[]): Matrix3 =>
    fitPlane(chosen.map(tieOf), chosen.length >= TIES_FOR_HOMOGRAPHY ? 'homography' : 'affine', width, height).matrix;
  let matrix = fit(best);
  for (let round = 0; round < 3; round++) {
    const agreeing = matches.flatMap((_, n) => {
      const [x, y] = applyMatrix(matrix, from[n]!.x, from[n]!.y);
      return Math.hypot(x - to[n]!.x, y - to[n]!.y) < tolerancePx ? [n] : [];
    });
    if (agreeing.length < LEAST_INLIERS) break;
    best = agreeing;
    matrix = fit(best);
  }
  return { matrix, scale, turnRad, inliers: best.map((n) => matches[n]!) };
}

/** All matches, px of a and of b, and how far from its place one may lie. */
interface AgreeingAll {
  readonly fromX: Float64Array;
  readonly fromY: Float64Array;
  readonly toX: Float64Array;
  readonly toY: Float64Array;
  readonly limitPx: number;
}

/** Whether match n lies where a scale and turn about match i put it. */
function agrees(
  { fromX, fromY, toX, toY, limitPx }: AgreeingAll,
  n: number,
  i: number,
  re: number,
  im: number,
): boolean {
  const [x, y] = [fromX[n]! - fromX[i]!, fromY[n]! - fromY[i]!];
  const ex = toX[i]! + re * x - im * y - toX[n]!;
  const ey = toY[i]! + im * x + re * y - toY[n]!;
  return ex * ex + ey * ey < limitPx ** 2;
}

function countAgreeing(all: AgreeingAll, i: number, re: number, im: number): number {
  let count = 0;
  for (let n = 0; n < all.fromX.length; n++) if (agrees(all, n, i, re, im)) count++;
  return count;
}
