// Brackets of light that is known: fused, merged as light, mixed by shares, and with something that moved.
import { IDENTITY_TONE, linearToSrgb, srgbToLinear, type Plane, type Region } from '../image';
import { planeView, type KernelPlanes, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, blockTexture, greyPixels, samplePlane } from '../testing/pictures';
import { blockSource } from '../testing/pixelSource';
import {
  blendShares,
  findMotion,
  fuseBase,
  fuseExposures,
  gradientShares,
  mergeLight,
  reduceExposures,
  toneForLight,
  type ExposureFrame,
  type LightFrame,
} from '.';
import { type AlignedFrame, SAME_PLACE } from '../frame';
import { shownLight } from './mergeLight';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [160, 128];
const WHOLE: Region = { x: 0, y: 0, width: W, height: H };
const NOISE = 0.002;
const texture = blockTexture(W, H, 6).data;

/** Light over 8 EV: dark on the left, bright on the right, with detail everywhere. */
const light = samplePlane(
  W,
  H,
  (x, y) => 0.01 * 2 ** ((8 * x) / W) * (0.5 + texture[Math.floor(y) * W + Math.floor(x)]!),
);

function expose(scene: Plane, ev: number, seed: number): Plane {
  const coded = { ...scene, data: scene.data.map((v) => Math.min(1, linearToSrgb(v * 2 ** ev))) };
  const noisy = addNoise(coded, NOISE, seed);
  return { ...noisy, data: noisy.data.map((v) => Math.min(1, Math.max(0, v))) };
}

function frameOf(plane: Plane, ev = 0, share: Plane | null = null): LightFrame {
  const aligned: AlignedFrame = {
    source: blockSource(kernels, greyPixels(plane), 1),
    geometry: SAME_PLACE,
    tone: IDENTITY_TONE,
    noise: new Array<number>(8).fill(NOISE ** 2),
  };
  return { ...aligned, ev, share };
}

const EVS = [-4, -2, 0, 2] as const;
const bracket = (): LightFrame[] => EVS.map((ev, k) => frameOf(expose(light, ev, k + 1), ev));
const first = (planes: KernelPlanes): Float32Array => planeView(kernels, planes).slice();

function fused(frames: readonly ExposureFrame[], region = WHOLE): Float32Array {
  const tile = { x: 0, y: 0, width: 64, height: 64 };
  const regions: Region[] = [];
  for (let y = 0; y < H; y += 64)
    for (let x = 0; x < W; x += 64) regions.push({ ...tile, x, y, width: Math.min(64, W - x) });
  const parts = regions.map((r) => reduceExposures(kernels, frames, r, W, H));
  const base = fuseBase(kernels, parts, W, H);
  return kernels.scope(() => first(fuseExposures(kernels, frames, base, region, W, H)));
}

describe('exposure fusion', () => {
  it('gives one frame back unchanged', () => {
    const plane = blockTexture(W, H, 3);
    const out = fused([frameOf(plane)]);
    for (let i = 0; i < out.length; i++) expect(Math.abs(out[i]! - plane.data[i]!)).toBeLessThan(2e-3);
  });

  it('gives the same pixels for a part as for the whole', () => {
    const frames = bracket();
    const whole = fused(frames);
    const part = { x: 64, y: 64, width: 64, height: 64 };
    const piece = fused(frames, part);
    let worst = 0;
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 64; x++)
        worst = Math.max(worst, Math.abs(piece[y * 64 + x]! - whole[(64 + y) * W + 64 + x]!));
    expect(worst).toBeLessThan(3e-3);
  });

  it('holds at both ends at least half the detail of the frame that shows it best', () => {
    const frames = EVS.map((ev, k) => expose(light, ev, k + 1));
    const out = fused(frames.map((f, k) => frameOf(f, EVS[k])));
    const detail = (data: Float32Array, from: number): number => {
      let sum = 0;
      for (let y = 1; y < H; y++)
        for (let x = from; x < from + 20; x++) sum += Math.abs(data[y * W + x]! - data[(y - 1) * W + x]!);
      return sum;
    };
    for (const from of [4, W - 24]) {
      const best = Math.max(...frames.map((f) => detail(f.data, from)));
      expect(detail(out, from)).toBeGreaterThan(0.5 * best);
    }
    expect(out.filter((v) => v > 1.02 || v < -0.02).length).toBeLessThan(0.01 * out.length);
  });
});

describe('a bracket as light', () => {
  it('recovers light over 8 EV within 3 % in the median', () => {
    const tone = { key: 0.5, white: 40 };
    const out = kernels.scope(() => first(mergeLight(kernels, bracket(), tone, WHOLE, W, H)));
    const errors = [...out].map((v, i) => {
      const shown = linearToSrgb(shownLight(light.data[i]! * tone.key, tone));
      return Math.abs(v - shown) / shown;
    });
    errors.sort((a, b) => a - b);
    expect(errors[errors.length >> 1]).toBeLessThan(0.03);
    expect(errors[Math.floor(0.98 * errors.length)]).toBeLessThan(0.12);
  });

  it('shows the geometric mean as middle grey and the brightest as white', () => {
    const tone = toneForLight(light.data);
    const mean = Math.exp([...light.data].reduce((s, v) => s + Math.log(v), 0) / light.data.length);
    expect(mean * tone.key).toBeCloseTo(0.18, 4);
    expect(shownLight(tone.white, tone)).toBeCloseTo(1, 6);
  });
});

describe('findMotion', () => {
  const disc = (cx: number): Plane => ({
    ...light,
    data: light.data.map((v, i) => (Math.hypot((i % W) - cx, Math.floor(i / W) - 64) < 10 ? 0.08 : v)),
  });
  const view = (scene: Plane, ev: number, seed: number) => ({ luma: expose(scene, ev, seed), ev, noise: NOISE });

  it('finds nothing in a scene at rest', () => {
    const { moving, shares } = findMotion(
      EVS.map((ev, k) => view(light, ev, k + 1)),
      1,
    );
    expect(moving).toBeLessThan(0.001);
    expect(shares).toHaveLength(4);
  });

  it('takes other frames out where a disc is in them, and keeps the reference everywhere', () => {
    const at = [30, 60, 90, 120];
    const { moving, shares } = findMotion(
      EVS.map((ev, k) => view(disc(at[k]!), ev, k + 1)),
      1,
    );
    expect(moving).toBeGreaterThan(0.02);
    expect(Math.min(...shares[1]!.data)).toBeGreaterThan(0.99);
    expect(shares[0]!.data[64 * W + 30]).toBeLessThan(0.01);
    expect(shares[2]!.data[64 * W + 90]).toBeLessThan(0.01);
    // Where nothing was, all frames take part.
    for (const s of shares) expect(s.data[10 * W + 75]).toBe(1);
  });

  it('refuses views of different sizes', () => {
    const other = { luma: samplePlane(20, 20, () => 0.5), ev: 1, noise: NOISE };
    expect(() => findMotion([view(light, 0, 1), other], 0)).toThrow('findMotion.frames.1.luma');
  });
});

describe('shares', () => {
  it('a straight gradient goes from one frame to the next across its line, and shares add up to 1', () => {
    const [a, b] = gradientShares([{ x: 0.5, y: 0.5, angleDeg: 90, width: 0.25 }], 2, W, H, 40, 32) as [Plane, Plane];
    expect(a.data[0]).toBe(1);
    expect(b.data[31 * 40]).toBe(1);
    a.data.forEach((v, i) => expect(v + b.data[i]!).toBeCloseTo(1, 6));
    const out = kernels.scope(() =>
      first(
        blendShares(
          kernels,
          [
            frameOf(
              samplePlane(W, H, () => 0.2),
              0,
              a,
            ),
            frameOf(
              samplePlane(W, H, () => 0.8),
              0,
              b,
            ),
          ],
          WHOLE,
          W,
          H,
        ),
      ),
    );
    expect(out[5 * W + 80]).toBeCloseTo(0.2, 3);
    expect(out[(H - 5) * W + 80]).toBeCloseTo(0.8, 3);
    expect(out[64 * W + 80]).toBeCloseTo(0.5, 1);
  });

  it('names what does not fit', () => {
    expect(() => gradientShares([], 2, W, H, 4, 4)).toThrow('gradientShares.gradients.length');
    expect(() => gradientShares([{ x: 0, y: 0, angleDeg: 0, width: 0 }], 2, W, H, 4, 4)).toThrow('a share above 0');
  });
});

it('light and code are inverse to each other where both are told', () => {
  for (const v of [0.02, 0.3, 0.9]) expect(linearToSrgb(srgbToLinear(v))).toBeCloseTo(v, 6);
});
