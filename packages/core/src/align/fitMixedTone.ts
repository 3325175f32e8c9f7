// Tone of an exposure in a merge without colour: its channels were toned first and mixed afterwards, which no curve of a mix can be.
import { Matrix, SingularValueDecomposition, solve } from 'ml-matrix';
import { badParameter } from '../checks';
import { evaluateTone, LUMA_WEIGHTS, median, type ChannelWeights, type ColourPairs, type ToneCurve } from '../image';

const KNOTS = 17;
/** Weight of the curve's second differences, per pair. */
const STRAIGHT = 2e-4;
/** Pull of the shares towards luma, per pair: channels that go together tell nothing. */
const PULL = 2e-5;
const ROUNDS = 6;
/** Values of the source beyond which a channel is clipped and tells nothing. */
const HELD = [0.02, 0.97] as const;
const LEAST_PAIRS = 200;
/** Pairs that are looked at: more tell no more. */
const MOST_PAIRS = 20_000;
/** Departures within this many deviations agree (Tukey's biweight). */
const AGREES = 4.685;
const LEAST_DEVIATION = 0.002;
/** Knots rise by this at least. */
const LEAST_STEP = 1e-3;

/** merge ≈ Σ share · curve(channel). */
export interface MixedTone {
  readonly tone: ToneCurve;
  readonly mix: ChannelWeights;
}

/**
 * Fits one curve for all channels and their shares by turns, each robustly: with one of both known, the other is linear.
 * @param known shares, where they are known
 * @returns null where fewer than 200 pairs hold all of their channels
 * @throws ParameterError when the channels differ in length
 */
export function fitMixedTone({ source, target }: ColourPairs, known: ChannelWeights | null = null): MixedTone | null {
  const n = source[0].length;
  if ([...source, ...target].some((c) => c.length !== n))
    throw badParameter('fitMixedTone.pairs', 'pairs of equal number', n);
  const held: number[] = [];
  for (let i = 0; i < n; i++) {
    const [r, g, b] = [source[0][i]!, source[1][i]!, source[2][i]!];
    if (Math.min(r, g, b) >= HELD[0] && Math.max(r, g, b) <= HELD[1]) held.push(i);
  }
  const every = Math.max(1, Math.ceil(held.length / MOST_PAIRS));
  const used = held.filter((_, k) => k % every === 0);
  if (used.length < LEAST_PAIRS) return null;
  let mix: ChannelWeights = known ?? LUMA_WEIGHTS;
  let curve = Array.from({ length: KNOTS }, (_, k) => k / (KNOTS - 1));
  let weights = new Float32Array(used.length).fill(1);
  for (let round = 0; round < ROUNDS; round++) {
    curve = fitCurve(source, target[1], used, weights, mix);
    if (!known) mix = fitShares(source, target[1], used, weights, curve);
    weights = agreement(source, target[1], used, curve, mix);
  }
  const rising = increasing(curve);
  return { tone: [rising, rising, rising], mix };
}

/** A curve that never falls, and ends above all else: what is clipped is told by it. */
function increasing(curve: readonly number[]): number[] {
  let most = -Infinity;
  return curve.map((v) => (most = Math.max(most + LEAST_STEP, v)));
}

/** How far each pair can be believed, 0..1. */
function agreement(
  source: ColourPairs['source'],
  target: Float32Array,
  used: readonly number[],
  curve: readonly number[],
  mix: ChannelWeights,
): Float32Array<ArrayBuffer> {
  const off = Float32Array.from(used, (i) =>
    Math.abs(target[i]! - mix.reduce((sum, share, c) => sum + share * evaluateTone(curve, source[c]![i]!), 0)),
  );
  const cut = AGREES * Math.max(LEAST_DEVIATION, 1.4826 * median(off));
  return off.map((v) => (v < cut ? (1 - (v / cut) ** 2) ** 2 : 0));
}

function fitCurve(
  source: ColourPairs['source'],
  target: Float32Array,
  used: readonly number[],
  weights: Float32Array,
  mix: ChannelWeights,
): number[] {
  const normal = Matrix.zeros(KNOTS, KNOTS);
  const right = Matrix.zeros(KNOTS, 1);
  const add = (a: number, b: number, v: number): void => {
    normal.set(a, b, normal.get(a, b) + v);
  };
  // Each channel lies between two knots: six numbers per pair.
  const at = new Int32Array(6);
  const part = new Float64Array(6);
  used.forEach((i, k) => {
    for (let c = 0; c < 3; c++) {
      const v = source[c]![i]! * (KNOTS - 1);
      const knot = Math.min(KNOTS - 2, Math.floor(v));
      [at[2 * c], at[2 * c + 1]] = [knot, knot + 1];
      [part[2 * c], part[2 * c + 1]] = [mix[c]! * (1 - v + knot), mix[c]! * (v - knot)];
    }
    const w = weights[k]!;
    for (let a = 0; a < 6; a++) {
      right.set(at[a]!, 0, right.get(at[a]!, 0) + w * part[a]! * target[i]!);
      for (let b = 0; b < 6; b++) add(at[a]!, at[b]!, w * part[a]! * part[b]!);
    }
  });
  const straight = STRAIGHT * used.length;
  for (let k = 1; k < KNOTS - 1; k++)
    [1, -2, 1].forEach((ci, i) => [1, -2, 1].forEach((cj, j) => add(k - 1 + i, k - 1 + j, straight * ci * cj)));
  for (let k = 0; k < KNOTS; k++) add(k, k, 1e-6 * used.length);
  return solve(normal, right).getColumn(0);
}

/** Shares that sum to 1, none below 0. */
function fitShares(
  source: ColourPairs['source'],
  target: Float32Array,
  used: readonly number[],
  weights: Float32Array,
  curve: readonly number[],
): ChannelWeights {
  const normal = Matrix.zeros(3, 3);
  const right = Matrix.zeros(3, 1);
  used.forEach((i, k) => {
    const toned = [0, 1, 2].map((c) => evaluateTone(curve, source[c as 0 | 1 | 2][i]!));
    for (let a = 0; a < 3; a++) {
      right.set(a, 0, right.get(a, 0) + weights[k]! * toned[a]! * target[i]!);
      for (let b = 0; b < 3; b++) normal.set(a, b, normal.get(a, b) + weights[k]! * toned[a]! * toned[b]!);
    }
  });
  const pull = PULL * used.length;
  LUMA_WEIGHTS.forEach((share, a) => {
    normal.set(a, a, normal.get(a, a) + pull);
    right.set(a, 0, right.get(a, 0) + pull * share);
  });
  const found = new SingularValueDecomposition(normal)
    .solve(right)
    .getColumn(0)
    .map((v) => Math.max(0, v));
  const sum = found.reduce((s, v) => s + v, 0);
  return sum > 0.05 ? [found[0]! / sum, found[1]! / sum, found[2]! / sum] : LUMA_WEIGHTS;
}
