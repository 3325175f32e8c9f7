// Gains of light between frames of one scene: known gains in, known gains out, whatever is sharp.
import { linearToSrgb, srgbToLinear, type Plane } from '../image';
import { addNoise, gaussianBlur, samplePlane, waveTexture } from '../testing/pictures';
import { fitLightGain } from '.';

const [W, H] = [200, 150];
const scene = samplePlane(W, H, waveTexture(7, 60));
const same = (x: number, y: number): [number, number] => [x, y];

/** The scene under another light, out of focus (which spreads light, not code values) and with noise. */
function under(gain: number, sigma: number, seed: number): Plane {
  const light: Plane = { ...scene, data: scene.data.map((v) => gain * srgbToLinear(v)) };
  const soft = sigma > 0 ? gaussianBlur(light, sigma) : light;
  return addNoise({ ...soft, data: soft.data.map(linearToSrgb) }, 0.004, seed);
}

const triple = (f: (c: number) => Plane): [Plane, Plane, Plane] => [f(0), f(1), f(2)];

describe('fitLightGain', () => {
  it('recovers gains of each channel within 0.5 %', () => {
    const gains = [0.93, 1, 1.08];
    const found = fitLightGain(
      triple((c) => under(1, 0, c)),
      triple((c) => under(gains[c]!, 0, 5 + c)),
      same,
    );
    found.forEach((g, c) => expect(Math.abs(g / gains[c]! - 1)).toBeLessThan(0.005));
  });

  it.each([
    [1.7, 0.01],
    [4.5, 0.02],
  ])('is not misled when one frame is blurred by %s px: within a share of %s', (sigma, within) => {
    const sharp = triple((c) => under(1, 0, c));
    const soft = triple((c) => under(1.04, sigma, 9 + c));
    fitLightGain(sharp, soft, same).forEach((g) => expect(Math.abs(g / 1.04 - 1)).toBeLessThan(within));
    fitLightGain(soft, sharp, same).forEach((g) => expect(Math.abs(g * 1.04 - 1)).toBeLessThan(within));
  });

  it('leaves out what changed: a sixth of the picture with a bright thing in one frame', () => {
    const target = triple((c) => under(0.97, 0, 20 + c));
    const covered = target.map((p) => ({
      ...p,
      data: p.data.map((v, i) => (i % W < W / 4 && Math.floor(i / W) < (2 * H) / 3 ? Math.min(0.9, v + 0.35) : v)),
    })) as [Plane, Plane, Plane];
    fitLightGain(
      triple((c) => under(1, 0, c)),
      covered,
      same,
    ).forEach((g) => expect(Math.abs(g / 0.97 - 1)).toBeLessThan(0.01));
  });

  it('follows the map between the pictures', () => {
    const shifted = triple((c) => {
      const p = under(1.1, 0, 30 + c);
      return { ...p, data: p.data.map((_, i) => p.data[Math.min(p.data.length - 1, i + 12)]!) };
    });
    const found = fitLightGain(
      triple((c) => under(1, 0, c)),
      shifted,
      (x, y) => [x - 12, y],
    );
    found.forEach((g) => expect(Math.abs(g / 1.1 - 1)).toBeLessThan(0.01));
  });

  it('says 1 where nothing tells: no overlap, or clipped all over', () => {
    const white = triple(() => ({ width: W, height: H, data: new Float32Array(W * H).fill(1) }));
    expect(
      fitLightGain(
        triple((c) => under(1, 0, c)),
        white,
        same,
      ),
    ).toEqual([1, 1, 1]);
    expect(
      fitLightGain(
        triple((c) => under(1, 0, c)),
        triple((c) => under(1, 0, c)),
        () => null,
      ),
    ).toEqual([1, 1, 1]);
  });

  it('names planes that do not belong together', () => {
    const odd = [scene, scene, { width: 2, height: 2, data: new Float32Array(4) }] as const;
    expect(() =>
      fitLightGain(
        odd,
        triple((c) => under(1, 0, c)),
        same,
      ),
    ).toThrow('fitLightGain.source: expected planes of one size');
  });
});
