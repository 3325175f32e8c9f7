// Tone curves between pictures: a few knots per channel, and the look-up tables made of them.
import { badParameter } from '../checks';
import { linearToSrgb, srgbToLinear } from './colour';

/** For each of R, G, B the curve's values at equally spaced inputs 0..1; piecewise linear between. */
export type ToneCurve = readonly [readonly number[], readonly number[], readonly number[]];

export const IDENTITY_TONE: ToneCurve = [
  [0, 1],
  [0, 1],
  [0, 1],
];

const GAIN_KNOTS = 65;

/** Gains of linear light per channel as a tone curve of encoded values. */
export function gainTone(gains: readonly [number, number, number]): ToneCurve {
  if (gains.every((g) => g === 1)) return IDENTITY_TONE;
  const curve = (gain: number): number[] =>
    Array.from({ length: GAIN_KNOTS }, (_, k) => linearToSrgb(gain * srgbToLinear(k / (GAIN_KNOTS - 1))));
  return [curve(gains[0]), curve(gains[1]), curve(gains[2])];
}

const JOINED_KNOTS = 65;

/** Both curves as one: the first's values go through the second. */
export function joinTones(first: ToneCurve, second: ToneCurve): ToneCurve {
  const joined = (c: 0 | 1 | 2): number[] =>
    Array.from({ length: JOINED_KNOTS }, (_, k) =>
      evaluateTone(second[c], evaluateTone(first[c], k / (JOINED_KNOTS - 1))),
    );
  return [joined(0), joined(1), joined(2)];
}

/** The curve's value at v (clamped to 0..1). */
export function evaluateTone(knots: readonly number[], v: number): number {
  const last = knots.length - 1;
  const t = Math.min(1, Math.max(0, v)) * last;
  const k = Math.min(last - 1, Math.floor(t));
  return knots[k]! + (t - k) * (knots[k + 1]! - knots[k]!);
}

/**
 * Table that turns integer levels into toned floats: three runs of 256 (8 bits) or 65536 (16 bits) values.
 * @throws ParameterError when a channel has fewer than two knots
 */
export function toneLut(curve: ToneCurve, bits: 8 | 16): Float32Array {
  const n = bits === 8 ? 256 : 65536;
  const lut = new Float32Array(3 * n);
  curve.forEach((knots, c) => {
    if (knots.length < 2) throw badParameter(`toneLut.curve.${c}.length`, 'at least 2 knots', knots.length);
    for (let i = 0; i < n; i++) lut[c * n + i] = evaluateTone(knots, i / (n - 1));
  });
  return lut;
}

const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** What a tone curve makes of a grey: its luma. */
export function toneOfGrey(curve: ToneCurve, v: number): number {
  return curve.reduce((s, knots, c) => s + LUMA[c]! * evaluateTone(knots, v), 0);
}
