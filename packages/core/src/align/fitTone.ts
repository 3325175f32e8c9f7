// The smooth tone curve that turns one picture's values into another's.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { evaluateTone, median, type ToneCurve } from '../image';

/** Between knots a curve of everyday contrast bends by less than a level of 255. */
const KNOTS = 17;
/** Weight of the curve's second differences against all pairs together. */
const STRAIGHT = 0.02;
const ROUNDS = 4;

/** Pairs of values of one channel at the same places, both 0..1. */
export interface TonePairs {
  readonly source: Float32Array;
  readonly target: Float32Array;
}

/**
 * Fits target ≈ curve(source) per channel: piecewise linear, robust, curvature penalised so that parts
 * of the range without samples follow their neighbours.
 * @param channels pairs for R, G and B, at least 50 each
 * @param straight weight of the curve's second differences against all pairs together: less where the pairs are sure
 * @param count knots of the curve: more where it bends at the ends
 * @returns the curve; identity where nothing is known
 * @throws ParameterError when pairs differ in length or are too few
 */
export function fitTone(
  channels: readonly [TonePairs, TonePairs, TonePairs],
  straight = STRAIGHT,
  count = KNOTS,
): ToneCurve {
  channels.forEach((pairs, c) => {
    if (pairs.source.length !== pairs.target.length || pairs.source.length < 50) {
      throw badParameter(`fitTone.channels.${c}`, 'at least 50 pairs of equal number', [
        pairs.source.length,
        pairs.target.length,
      ]);
    }
  });
  const [red, green, blue] = channels;
  return [fitChannel(red, straight, count), fitChannel(green, straight, count), fitChannel(blue, straight, count)];
}

/** Brightnesses are looked at apart: of each as many places, from the middle half of what they became. */
const BINS = 64;
const OF_A_BIN = 200;
const LEAST_OF_A_BIN = 12;

/**
 * Evens pairs so that no brightness of the source outweighs the others: in a dark room with one window, what lies between the two is
 * rare, and the curve is wanted there, too. Of each brightness the middle half of what it became counts: at the window's rim one
 * picture is white where the other is not.
 * @returns 200 pairs of each 64th of the source's range that holds a dozen or more, repeated where there are fewer;
 * all as they are where no part holds a dozen
 */
export function evenPairs({ source, target }: TonePairs): TonePairs {
  const bins: number[][] = Array.from({ length: BINS }, () => []);
  source.forEach((v, i) => bins[Math.min(BINS - 1, Math.max(0, Math.floor(v * BINS)))]!.push(i));
  const kept = bins.flatMap((bin) => {
    if (bin.length < LEAST_OF_A_BIN) return [];
    const sorted = bin.sort((a, b) => target[a]! - target[b]!);
    const [from, half] = [bin.length / 4, bin.length / 2];
    return Array.from({ length: OF_A_BIN }, (_, n) => sorted[Math.floor(from + ((n + 0.5) / OF_A_BIN) * half)]!);
  });
  if (kept.length === 0) return { source, target };
  return { source: Float32Array.from(kept, (i) => source[i]!), target: Float32Array.from(kept, (i) => target[i]!) };
}

function fitChannel({ source, target }: TonePairs, straight: number, count: number): number[] {
  let knots = Array.from({ length: count }, (_, i) => i / (count - 1));
  for (let round = 0; round < ROUNDS; round++) {
    const residual = new Float32Array(source.length);
    for (let i = 0; i < residual.length; i++) residual[i] = target[i]! - evaluateTone(knots, source[i]!);
    // About zero, not about their own middle: where the first curve is off everywhere, that is no reason to leave all out.
    const cut = 3 * Math.max(0.002, 1.4826 * median(residual.map(Math.abs)));
    knots = solveKnots(source, target, residual, cut, straight, count);
  }
  return knots;
}

function solveKnots(
  source: Float32Array,
  target: Float32Array,
  residual: Float32Array,
  cut: number,
  straight: number,
  count: number,
): number[] {
  // The data couples neighbouring knots only: diagonal, first off-diagonal and right-hand side.
  const diagonal = new Float64Array(count);
  const beside = new Float64Array(count);
  const rhs = new Float64Array(count);
  for (let i = 0; i < source.length; i++) {
    const q = residual[i]! / cut;
    if (q >= 1 || q <= -1) continue;
    const w = ((1 - q * q) * (1 - q * q)) / source.length;
    const v = Math.min(1, Math.max(0, source[i]!)) * (count - 1);
    const k = Math.min(count - 2, Math.floor(v));
    const t = v - k;
    diagonal[k]! += w * (1 - t) * (1 - t);
    beside[k]! += w * t * (1 - t);
    diagonal[k + 1]! += w * t * t;
    rhs[k]! += w * (1 - t) * target[i]!;
    rhs[k + 1]! += w * t * target[i]!;
  }
  const a = Matrix.zeros(count, count);
  const add = (r: number, c: number, v: number): void => {
    a.set(r, c, a.get(r, c) + v);
  };
  for (let k = 0; k < count; k++) {
    // A faint pull to the identity keeps unsampled knots sensible.
    add(k, k, diagonal[k]! + 1e-6);
    rhs[k]! += (1e-6 * k) / (count - 1);
    if (k + 1 < count) {
      add(k, k + 1, beside[k]!);
      add(k + 1, k, beside[k]!);
    }
  }
  // Straightness: second differences are penalised.
  for (let k = 1; k < count - 1; k++) {
    [1, -2, 1].forEach((ci, i) => [1, -2, 1].forEach((cj, j) => add(k - 1 + i, k - 1 + j, straight * ci * cj)));
  }
  return solve(a, Matrix.columnVector([...rhs])).getColumn(0);
}
