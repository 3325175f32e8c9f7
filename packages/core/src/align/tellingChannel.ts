// Which grey picture of a colour picture registration should look at: luma, or one channel where luma hides what there is.
import { badParameter } from '../checks';
import { LUMA_WEIGHTS, quantile, type ChannelWeights, type Plane } from '../image';

const CHANNELS: readonly ChannelWeights[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
/**
 * A channel must show edges so many times clearer than luma: in most pictures one is a little clearer, and frames that look at
 * different channels are harder to compare.
 */
const CLEARER = 4;
/** Edges are the steepest of all places; most places show texture or noise. */
const EDGES = 0.995;
const STEP_PX = 3;
/** Steps of 8 bits, as a variance of the difference below. */
const QUANTISED = 4 / 12 / 255 ** 2;

/** Most places are steep by noise alone; the calmest fifth of them surely is. */
const CALM = 0.2;

/** A grey picture that registration can look at. */
export interface TellingChannel {
  readonly weights: ChannelWeights;
  /** Its noise variance against that of luma. */
  readonly noise: number;
}

/**
 * Chooses what registration looks at: luma, unless one channel shows edges far clearer against its own noise, as on a red plate
 * where luma is mostly the noise of its dark green.
 * @param rgb red, green and blue, encoded 0..1, of one size of at least 8 px a side
 * @returns weights that add up to 1
 * @throws ParameterError when the sizes differ or are smaller
 * Cost: one look at each ninth pixel.
 */
export function tellingChannel(rgb: readonly [Plane, Plane, Plane]): TellingChannel {
  const { width, height } = rgb[0];
  if (width < 8 || height < 8 || rgb.some((p) => p.width !== width || p.height !== height))
    throw badParameter(
      'tellingChannel.rgb.size',
      'three planes of one size, 8 px or more a side',
      rgb.map((p) => [p.width, p.height]),
    );
  const luma = steepness(rgb, LUMA_WEIGHTS);
  let [best, most]: [TellingChannel, number] = [{ weights: LUMA_WEIGHTS, noise: 1 }, CLEARER * luma.clarity];
  for (const weights of CHANNELS) {
    const { clarity, calm } = steepness(rgb, weights);
    if (clarity > most) [best, most] = [{ weights, noise: calm / luma.calm }, clarity];
  }
  return best;
}

/** How far the steepest places stand out of all, and how steep calm places are. */
function steepness(
  rgb: readonly [Plane, Plane, Plane],
  [r, g, b]: ChannelWeights,
): { readonly clarity: number; readonly calm: number } {
  const { width, height } = rgb[0];
  const [red, green, blue] = rgb.map((p) => p.data) as [Float32Array, Float32Array, Float32Array];
  const across = (i: number, by: number): number => {
    const of = (data: Float32Array): number => data[i + 2 * by]! + data[i + by]! - data[i - by]! - data[i - 2 * by]!;
    return r * of(red) + g * of(green) + b * of(blue);
  };
  const steep: number[] = [];
  for (let y = 2; y < height - 2; y += STEP_PX)
    for (let x = 2; x < width - 2; x += STEP_PX) {
      const i = y * width + x;
      steep.push(across(i, 1) ** 2 + across(i, width) ** 2);
    }
  return {
    clarity: quantile(steep, EDGES) / (quantile(steep, 0.5) + QUANTISED),
    calm: quantile(steep, CALM) + QUANTISED,
  };
}
