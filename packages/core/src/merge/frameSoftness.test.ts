// How soft frames are against each other: blur that was put in comes out, whatever the tone and the noise.
import type { Kernels } from '../kernels';
import { gainTone, type Plane } from '../image';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, gaussianBlur, makeRandom, samplePlane } from '../testing/pictures';
import { frameOf, STACK_NOISE } from '../testing/stack';
import { compareBlur, fitSoftness } from '.';

const [W, H, SIDE] = [320, 256, 64];
const WINDOWS = Array.from({ length: 20 }, (_, i) => ({
  x: (i % 5) * SIDE,
  y: Math.floor(i / 5) * SIDE,
  width: SIDE,
  height: SIDE,
}));
let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;
const shot = (plane: Plane, sigma: number, seed: number) =>
  frameOf(kernels, addNoise(gaussianBlur(plane, sigma), STACK_NOISE, seed));

describe('the blur of two frames', () => {
  // Steps far apart, as a lens shows them: what the formula of the bands is made for.
  const random = makeRandom(5);
  const tones = Array.from({ length: 400 }, () => 0.2 + 0.6 * random());
  const scene = gaussianBlur(
    samplePlane(W, H, (x, y) => tones[(Math.floor(y / 29) * 20 + Math.floor(x / 31)) % 400]!),
    0.6,
  );

  it.each([0.8, 1.2, 1.6])('differs by the variance that was added: σ %s px', (sigma) => {
    const differences = compareBlur(kernels, shot(scene, sigma, 1), shot(scene, 0, 2), WINDOWS);
    expect(differences.length).toBe(WINDOWS.length);
    expect(Math.abs(median(differences) / sigma ** 2 - 1)).toBeLessThan(0.25);
  });

  it('is the same for frames alike, and for one that is darker', () => {
    const [a, b] = [shot(scene, 0.8, 3), shot(scene, 0.8, 4)];
    expect(Math.abs(median(compareBlur(kernels, a, b, WINDOWS)))).toBeLessThan(0.05);
    const darker = { ...b, tone: gainTone([0.5, 0.5, 0.5]) };
    expect(Math.abs(median(compareBlur(kernels, a, darker, WINDOWS)))).toBeLessThan(0.15);
  });

  it('is not told where there is nothing but noise', () => {
    const flat = { width: W, height: H, data: new Float32Array(W * H).fill(0.5) };
    expect(compareBlur(kernels, shot(flat, 0, 5), shot(flat, 0, 6), WINDOWS)).toEqual([]);
  });
});

describe('softness of frames', () => {
  const tie = (i: number, j: number, difference: number, places = 20) => ({
    i,
    j,
    differences: Array.from({ length: places }, (_, n) => difference + 0.1 * ((n % 5) - 2)),
  });

  it('is what their pairs say, above that of the sharpest', () => {
    const found = fitSoftness(4, [tie(0, 1, -2), tie(1, 2, 1.5), tie(2, 3, 0.5), tie(0, 3, 0)]);
    [0, 2, 0.5, 0].forEach((s, k) => expect(found[k]!).toBeCloseTo(s, 1));
  });

  it('does not follow a few places that say otherwise, nor pairs that share too few', () => {
    const spoilt = { i: 0, j: 1, differences: [...tie(0, 1, 0).differences, 9, 9, 9, 9] };
    const found = fitSoftness(3, [spoilt, tie(1, 2, 0), tie(0, 2, 8, 3)]);
    found.forEach((s) => expect(s).toBeLessThan(0.15));
  });

  it('of frames that are not there is refused by name', () => {
    expect(() => fitSoftness(2, [tie(0, 2, 1)])).toThrow('fitSoftness.ties');
  });
});
