// Grey pictures of colour pictures: in which shares the channels are mixed, and which mix a picture without colour was made with.
import { Matrix, solve } from 'ml-matrix';
import { badParameter } from '../checks';

/** Shares of red, green and blue in a grey picture. */
export type ChannelWeights = readonly [red: number, green: number, blue: number];

/** Luma of sRGB (ITU-R BT.709). */
export const LUMA_WEIGHTS: ChannelWeights = [0.2126, 0.7152, 0.0722];

/** Channels of a picture without colour differ by less than this, RMS: compression leaves as much. */
const COLOURLESS = 0.008;
/** Pull towards luma, per pair: where channels go together, nothing else can be told. */
const PULL = 2e-5;

/** Values of R, G and B at the same places of two pictures, encoded 0..1. */
export interface ColourPairs {
  readonly source: readonly [Float32Array, Float32Array, Float32Array];
  readonly target: readonly [Float32Array, Float32Array, Float32Array];
}

/**
 * Which mix of a colour picture's channels a picture without colour shows. Its tone does not matter: what a curve changes is told apart
 * by another fit.
 * @returns shares that sum to 1, none below 0; null where the target has colour, or the source has none either
 * @throws ParameterError when the channels differ in length or hold fewer than 50 pairs
 */
export function fitGreyMix({ source, target }: ColourPairs): ChannelWeights | null {
  const n = source[0].length;
  if (n < 50 || [...source, ...target].some((c) => c.length !== n))
    throw badParameter('fitGreyMix.pairs', 'at least 50 pairs of equal number', n);
  if (colourOf(target) > COLOURLESS || colourOf(source) <= COLOURLESS) return null;
  // Differences from the means: the offset of the fit is nobody's share.
  const means = [...source, target[1]].map((c) => c.reduce((s, v) => s + v, 0) / n);
  const normal = Matrix.zeros(3, 3);
  const rhs = Matrix.zeros(3, 1);
  for (let i = 0; i < n; i++) {
    const t = target[1][i]! - means[3]!;
    for (let a = 0; a < 3; a++) {
      const sa = source[a]![i]! - means[a]!;
      rhs.set(a, 0, rhs.get(a, 0) + sa * t);
      for (let b = 0; b <= a; b++) normal.set(a, b, normal.get(a, b) + sa * (source[b]![i]! - means[b]!));
    }
  }
  for (let a = 0; a < 3; a++) {
    for (let b = a + 1; b < 3; b++) normal.set(a, b, normal.get(b, a));
    normal.set(a, a, normal.get(a, a) + PULL * n);
    rhs.set(a, 0, rhs.get(a, 0) + PULL * n * LUMA_WEIGHTS[a]!);
  }
  const found = solve(normal, rhs)
    .getColumn(0)
    .map((w) => Math.max(0, w));
  const sum = found.reduce((s, w) => s + w, 0);
  return sum > 0.05 ? [found[0]! / sum, found[1]! / sum, found[2]! / sum] : LUMA_WEIGHTS;
}

/** How far a picture's channels differ from green, RMS. */
function colourOf([red, green, blue]: ColourPairs['source']): number {
  const squares = green.reduce((s, g, i) => s + (red[i]! - g) ** 2 + (blue[i]! - g) ** 2, 0);
  return Math.sqrt(squares / (2 * green.length));
}
