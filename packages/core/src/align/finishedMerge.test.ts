// What a finish did to a merge, told from its frames: local contrast of known strength, and a mix of channels after a known curve.
import { withoutContrast, type LocalContrast } from '../frame';
import type { ChannelWeights } from '../image';
import { addNoise, gaussianBlur, samplePlane, waveTexture } from '../testing/pictures';
import { fitLocalContrast, fitMixedTone, type ColourSamples } from '.';

const [W, H] = [160, 120];
const PITCH = 4;
const grid = { width: W, height: H, pitchPx: PITCH };

/** A scene of broad and of fine forms in three colours, 0.2..0.8. */
const scene = [0, 1, 2].map((c) => {
  const [fine, broad] = [
    samplePlane(W, H, waveTexture(3 + c, 9)).data,
    gaussianBlur(samplePlane(W, H, waveTexture(30 + c, 60)), 6).data,
  ];
  return { width: W, height: H, data: fine.map((v, i) => 0.2 + 0.6 * (0.5 * v + 0.5 * broad[i]!)) };
});
const samples = (of: (c: number) => Float32Array): ColourSamples => [of(0), of(1), of(2)];
const frames = [1, 2, 3].map((seed) => samples((c) => addNoise(scene[c]!, 0.004, 10 * seed + c).data));

/** The scene after value + amount · (value − blur), with noise. */
const raised = (amount: number, sigma: number): ColourSamples =>
  samples((c) => {
    const around = gaussianBlur(scene[c]!, sigma).data;
    const data = scene[c]!.data.map((v, i) => Math.min(1, Math.max(0, v + amount * (v - around[i]!))));
    return addNoise({ width: W, height: H, data }, 0.004, 70 + c).data;
  });

/** Median distance of a merge, its contrast taken back, from the scene, over the inner part. */
function offScene(contrast: LocalContrast, merge: ColourSamples): number {
  const off: number[] = [];
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const [r, g, b] = [merge[0][i]!, merge[1][i]!, merge[2][i]!];
      const plain = withoutContrast(contrast, (x + 0.5) * PITCH, (y + 0.5) * PITCH, [r, g, b]);
      plain.forEach((v, c) => off.push(Math.abs(v - scene[c]!.data[i]!)));
    }
  return off.sort((a, b) => a - b)[off.length >> 1]!;
}

describe('fitLocalContrast', () => {
  it.each([
    [0.6, 4],
    [0.6, 6.5],
    [1.2, 10],
  ])('tells an amount of %s over σ %s places within a tenth of both, and takes it back', (amount, sigma) => {
    const merge = raised(amount, sigma);
    const found = fitLocalContrast(merge, frames, grid)!;
    expect(Math.abs(found.amount / amount - 1)).toBeLessThan(1 / 10);
    expect(Math.abs(found.radiusPx / (sigma * PITCH) - 1)).toBeLessThan(1 / 10);
    expect(offScene(found, merge)).toBeLessThan(0.004);
  });

  it('tells none in a merge that was not finished, in one of another tone, or with a part that lies wrong', () => {
    const plain = samples((c) => addNoise(scene[c]!, 0.004, 90 + c).data);
    const curved = samples((c) => plain[c as 0 | 1 | 2].map((v) => v - 0.05 * Math.sin(2 * Math.PI * v)));
    const wrong = samples((c) => plain[c as 0 | 1 | 2].map((v, i, all) => (i % W < 40 ? all[i + 5]! : v)));
    for (const merge of [plain, curved, wrong]) expect(fitLocalContrast(merge, frames, grid)).toBeNull();
  });

  it('is told beside what no frame shows, what is clipped, and a mat', () => {
    const merge = raised(0.6, 6.5);
    const inMat = samples((c) => merge[c as 0 | 1 | 2].map((v, i) => (i % W < 12 ? NaN : v)));
    const burnt = frames.map((f) => samples((c) => f[c as 0 | 1 | 2].map((v) => (v > 0.7 ? NaN : v))));
    const found = fitLocalContrast(inMat, burnt, grid)!;
    expect(Math.abs(found.amount / 0.6 - 1)).toBeLessThan(0.12);
    expect(found.values.every(Number.isFinite)).toBe(true);
  });

  it('refuses samples of another grid', () => {
    expect(() => fitLocalContrast(frames[0]!, frames, { ...grid, width: 99 })).toThrow(
      'fitLocalContrast.samples.length: expected 11880 for all',
    );
  });
});

describe('fitMixedTone', () => {
  const curve = (v: number): number => 0.9 * v ** 0.5;
  const mix: ChannelWeights = [0.45, 0.45, 0.1];
  const source = frames[0]!;
  const grey = source[0].map(
    (r, i) => mix[0] * curve(r) + mix[1] * curve(source[1][i]!) + mix[2] * curve(source[2][i]!),
  );
  const noisy = addNoise({ width: W, height: H, data: grey }, 0.003, 8).data;

  it('tells a mix made after a curve within 0.02, and the curve within 0.01 in the middle of what the channels show', () => {
    const found = fitMixedTone({ source, target: [noisy, noisy, noisy] })!;
    found.mix.forEach((share, c) => expect(Math.abs(share - mix[c]!)).toBeLessThan(0.02));
    const knots = found.tone[0];
    for (const k of [7, 8, 9]) expect(Math.abs(knots[k]! - curve(k / (knots.length - 1)))).toBeLessThan(0.01);
    knots.forEach((v, k) => expect(k === 0 || v > knots[k - 1]!).toBe(true));
  });

  it('leaves out a sixth of the places that show something else, and keeps a mix that is known', () => {
    const other = noisy.map((v, i) => (i % 6 === 0 ? 0.1 : v));
    const found = fitMixedTone({ source, target: [other, other, other] })!;
    found.mix.forEach((share, c) => expect(Math.abs(share - mix[c]!)).toBeLessThan(0.03));
    const known: ChannelWeights = [0.2, 0.7, 0.1];
    expect(fitMixedTone({ source, target: [other, other, other] }, known)!.mix).toEqual(known);
  });

  it('tells nothing of an exposure that is burnt nearly everywhere', () => {
    const burnt = samples((c) => source[c as 0 | 1 | 2].map((v, i) => (i < 150 ? v : 1)));
    expect(fitMixedTone({ source: burnt, target: [noisy, noisy, noisy] })).toBeNull();
  });
});
