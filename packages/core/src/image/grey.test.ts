// The mix of a picture without colour is found again, in whatever tone it is.
import { fitGreyMix, LUMA_WEIGHTS, type ColourPairs } from './index';
import { makeRandom } from '../testing/pictures';

const N = 4000;
type Channels = [Float32Array, Float32Array, Float32Array];

function colours(spread = 0.25): Channels {
  const random = makeRandom(11);
  const out: Channels = [new Float32Array(N), new Float32Array(N), new Float32Array(N)];
  for (let i = 0; i < N; i++) {
    const light = 0.3 + 0.4 * random();
    for (const channel of out) channel[i] = light + spread * (random() - 0.5);
  }
  return out;
}
const greyOf = (source: Channels, mix: readonly number[], tone: (v: number) => number): Channels => {
  const grey = source[0].map((_, i) => tone(mix.reduce((s, w, c) => s + w * source[c]![i]!, 0)));
  return [grey, grey, grey];
};
const sCurve = (v: number): number => 0.5 - 0.5 * Math.cos(Math.PI * v);

it.each([
  ['luma', LUMA_WEIGHTS],
  ['a red filter', [0.8, 0.15, 0.05]],
  ['equal shares', [1 / 3, 1 / 3, 1 / 3]],
] as const)('finds %s within 0.03, straight and through an S-curve with gain', (_name, mix) => {
  const source = colours();
  for (const tone of [(v: number) => v, sCurve, (v: number) => 0.1 + 0.7 * v]) {
    const found = fitGreyMix({ source, target: greyOf(source, mix, tone) });
    mix.forEach((w, c) => expect(Math.abs(found![c]! - w)).toBeLessThan(0.03));
    expect(found!.reduce((s, w) => s + w, 0)).toBeCloseTo(1, 9);
  }
});

it('finds luma where the channels go together as good as wholly', () => {
  const source = colours(0.035);
  const found = fitGreyMix({ source, target: greyOf(source, LUMA_WEIGHTS, (v) => v) });
  found!.forEach((w, c) => expect(Math.abs(w - LUMA_WEIGHTS[c]!)).toBeLessThan(0.05));
});

it('says nothing of a picture with colour, or of pictures none of which has any', () => {
  const source = colours();
  expect(fitGreyMix({ source, target: source })).toBeNull();
  const grey = greyOf(source, LUMA_WEIGHTS, (v) => v);
  expect(fitGreyMix({ source: grey, target: grey })).toBeNull();
});

it('names what is wrong with the pairs', () => {
  const few = [new Float32Array(9), new Float32Array(9), new Float32Array(9)] as Channels;
  const pairs: ColourPairs = { source: few, target: few };
  expect(() => fitGreyMix(pairs)).toThrow('fitGreyMix.pairs: expected at least 50 pairs of equal number, received 9');
});
