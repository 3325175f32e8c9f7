// What registration looks at: luma where it tells, else the channel that shows more.
import { LUMA_WEIGHTS, makePlane, type Plane } from '../image';
import { addNoise, samplePlane, waveTexture } from '../testing/pictures';
import { tellingChannel } from './tellingChannel';

const [W, H] = [160, 120];
type Rgb = [Plane, Plane, Plane];

const even = (value: number): Plane => {
  const plane = makePlane(W, H);
  plane.data.fill(value);
  return plane;
};
/** Thin slanting lines, 1 on them. */
const lines = samplePlane(W, H, (x, y) => (Math.abs(((x + 0.6 * y) % 40) - 20) < 1.5 ? 1 : 0));
const withLines = (ground: number, line: number): Plane => {
  const plane = makePlane(W, H);
  plane.data.forEach((_, i) => (plane.data[i] = ground + (line - ground) * lines.data[i]!));
  return plane;
};
const noisy = (rgb: Rgb, deviations: readonly [number, number, number]): Rgb =>
  rgb.map((p, c) => addNoise(p, deviations[c]!, c + 1)) as Rgb;

it('stays with luma where it shows edges as well as any channel, whatever the colours', () => {
  const texture = samplePlane(W, H, waveTexture(3, 20));
  const brown = [texture, texture, texture].map((p, c) => ({
    ...p,
    data: p.data.map((v) => v * [0.9, 0.6, 0.4][c]!),
  })) as Rgb;
  expect(tellingChannel(noisy(brown, [0.01, 0.01, 0.01]))).toEqual({ weights: LUMA_WEIGHTS, noise: 1 });
});

it('takes red on a red plate whose lines have nearly its luma, and knows its noise', () => {
  // Red falls by 0.35 on a line, green rises by 0.11: luma hardly changes, and its noise is that of green.
  const plate: Rgb = [withLines(0.75, 0.4), withLines(0.12, 0.23), even(0.1)];
  const { weights, noise } = tellingChannel(noisy(plate, [0.008, 0.02, 0.02]));
  expect(weights).toEqual([1, 0, 0]);
  const lumaVariance = (0.2126 * 0.008) ** 2 + (0.7152 * 0.02) ** 2 + (0.0722 * 0.02) ** 2;
  expect(noise).toBeGreaterThan((0.6 * 0.008 ** 2) / lumaVariance);
  expect(noise).toBeLessThan((1.7 * 0.008 ** 2) / lumaVariance);
});

it('takes whichever channel holds what luma hides', () => {
  const blue: Rgb = [even(0.2), even(0.3), withLines(0.8, 0.2)];
  expect(tellingChannel(noisy(blue, [0.015, 0.015, 0.004])).weights).toEqual([0, 0, 1]);
});

it('an even picture is looked at as luma, and one too small or of unequal planes is refused by name', () => {
  expect(tellingChannel([even(0.5), even(0.5), even(0.5)]).weights).toEqual(LUMA_WEIGHTS);
  const small = makePlane(7, 20);
  expect(() => tellingChannel([small, small, small])).toThrow('tellingChannel.rgb.size');
  expect(() => tellingChannel([even(0.5), even(0.5), makePlane(W, H + 1)])).toThrow('three planes of one size');
});
