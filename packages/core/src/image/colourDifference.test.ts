// ΔE00: the paper's own pairs, brought to sRGB and back by hand, and what any measure of difference must do.
import fc from 'fast-check';
import { linearToSrgb } from './colour';
import { colourDifference, type Rgb } from './colourDifference';

/** CIELAB of D65 → encoded sRGB (IEC 61966-2-1), not clipped. */
function rgbOf([l, a, b]: readonly [number, number, number]): Rgb {
  const f = (l + 16) / 116;
  const cube = (t: number): number => (t > 6 / 29 ? t ** 3 : 3 * (6 / 29) ** 2 * (t - 4 / 29));
  const [x, y, z] = [0.95047 * cube(f + a / 500), cube(f), 1.08883 * cube(f - b / 200)];
  const encode = (v: number): number => (v < 0 ? -linearToSrgb(-v) : linearToSrgb(v));
  return [
    encode(3.2404542 * x - 1.5371385 * y - 0.4985314 * z),
    encode(-0.969266 * x + 1.8760108 * y + 0.041556 * z),
    encode(0.0556434 * x - 0.2040259 * y + 1.0572252 * z),
  ];
}

it.each([
  // G. Sharma, W. Wu and E. N. Dalal, Color Research and Application 30(1), 2005, table 1: pairs 1, 7, 17, 20, 21, 25 and 33.
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 0, 0], [50, -1, 2], 2.3669],
  [[50, 2.5, 0], [50, 0, -2.5], 4.3065],
  [[50, 2.5, 0], [58, 24, 15], 19.4535],
  [[50, 2.5, 0], [50, 3.1736, 0.5854], 1.0],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[6.7747, -0.2908, -2.4247], [5.8714, -0.0985, -2.2286], 0.6377],
] as const)('%j and %j differ by %f, as published, within 0.02', (a, b, expected) => {
  expect(Math.abs(colourDifference(rgbOf(a), rgbOf(b)) - expected)).toBeLessThan(0.02);
});

it('is nothing between equal colours, the same both ways, and grows with the distance of greys', () => {
  const channel = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(fc.tuple(channel, channel, channel), fc.tuple(channel, channel, channel), (a, b) => {
      expect(colourDifference(a, a)).toBeCloseTo(0, 9);
      expect(colourDifference(a, b)).toBeCloseTo(colourDifference(b, a), 6);
    }),
  );
  const grey = (v: number): Rgb => [v, v, v];
  const steps = [0.52, 0.55, 0.6, 0.8].map((v) => colourDifference(grey(0.5), grey(v)));
  expect([...steps].sort((a, b) => a - b)).toEqual(steps);
  expect(steps[0]).toBeGreaterThan(1);
});
