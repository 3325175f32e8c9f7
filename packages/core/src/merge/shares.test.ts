// Who counts how much where: painted parts, exposures of a bracket, frames of a preview.
import { IDENTITY_TONE, makePlane, type AreaShape } from '../image';
import { planeView, uploadPlanes, type Kernels } from '../kernels';
import { type AlignedFrame, similarityGeometry } from '../frame';
import { openTestKernels } from '../testing/openTestKernels';
import { greyPixels } from '../testing/pictures';
import { blockSource } from '../testing/pixelSource';
import { exposureWeights } from './exposureWeights';
import { featherFrames } from './featherFrames';
import { partShares } from './partShares';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

describe('painted parts', () => {
  const [COLUMNS, ROWS] = [60, 40];
  const box = (left: number, right: number): AreaShape => ({
    kind: 'polygon',
    corners: [
      [left, -0.1],
      [right, -0.1],
      [right, 1.1],
      [left, 1.1],
    ],
  });
  const at = (shares: ReturnType<typeof partShares>, x: number): number[] =>
    shares.map((s) => Number(s.data[20 * COLUMNS + x]!.toFixed(3)));

  it('come from their frame, all else from the reference; everywhere shares add up to 1', () => {
    const shares = partShares([{ frame: 2, shapes: [box(0.5, 1)] }], 1, 3, COLUMNS, ROWS, 0.1);
    expect(at(shares, 5)).toEqual([0, 1, 0]);
    expect(at(shares, 55)).toEqual([0, 0, 1]);
    for (let i = 0; i < COLUMNS * ROWS; i++) expect(shares.reduce((sum, s) => sum + s.data[i]!, 0)).toBeCloseTo(1, 5);
    // Half and half on the line, and softly so.
    const middle = shares[2]!.data[20 * COLUMNS + 30]!;
    expect(middle).toBeGreaterThan(0.3);
    expect(middle).toBeLessThan(0.7);
  });

  it('without feather are cut hard, and a later one lies over an earlier', () => {
    const parts = [
      { frame: 0, shapes: [box(0.2, 0.8)] },
      { frame: 2, shapes: [box(0.5, 1)] },
    ];
    const shares = partShares(parts, 1, 3, COLUMNS, ROWS, 0);
    expect([at(shares, 5), at(shares, 20), at(shares, 40), at(shares, 55)]).toEqual([
      [0, 1, 0],
      [1, 0, 0],
      [0, 0, 1],
      [0, 0, 1],
    ]);
  });

  it('of none are the reference; from a frame that is not there are refused by name', () => {
    expect(at(partShares([], 0, 2, COLUMNS, ROWS, 0.1), 30)).toEqual([1, 0]);
    expect(() => partShares([{ frame: 3, shapes: [] }], 0, 3, COLUMNS, ROWS, 0)).toThrow('partShares.parts.0.frame');
  });
});

describe('exposures of a bracket', () => {
  const [W, H] = [24, 16];
  /** Weights of an even frame of a grey value, valid everywhere but in its first column. */
  const weigh = (value: (x: number) => number, share: Float32Array | null = null): number[] =>
    kernels.scope(() => {
      const plane = Float32Array.from({ length: W * H }, (_, i) => value(i % W));
      const valid = Float32Array.from({ length: W * H }, (_, i) => (i % W === 0 ? 0 : 1));
      const rgbv = uploadPlanes(kernels, [plane, plane, plane, valid], W, H);
      return [...planeView(kernels, exposureWeights(kernels, rgbv, share))];
    });

  it('count most in the middle of the scale, as Mertens has it: exp(−(v − ½)²/0.08), three times over', () => {
    const [middle, dark, light] = [0.5, 0.2, 0.8].map((v) => weigh(() => v)[5]!) as [number, number, number];
    expect(dark / middle).toBeCloseTo(Math.exp(-3 * (0.3 ** 2 / 0.08)), 3);
    expect(light).toBeCloseTo(dark, 9);
  });

  it('count more where there is contrast, and nothing where there is no picture', () => {
    const even = weigh(() => 0.5);
    const edge = weigh((x) => (x < 12 ? 0.45 : 0.55));
    expect(edge[11]!).toBeGreaterThan(3 * even[11]!);
    expect(even.filter((_, i) => i % W === 0).every((v) => v === 0)).toBe(true);
    expect(Math.min(...even.filter((_, i) => i % W > 0))).toBeGreaterThan(0);
  });

  it('count by the share they are given, and stay finite beyond the scale', () => {
    const share = Float32Array.from({ length: W * H }, (_, i) => (i % W < 12 ? 1 : 0.25));
    const shared = weigh(() => 0.5, share);
    expect(shared[15]! / shared[5]!).toBeCloseTo(0.25, 6);
    for (const v of [-0.2, 1.4]) weigh(() => v).forEach((w) => expect(Number.isFinite(w)).toBe(true));
  });

  it('are four planes, and others are refused by name', () => {
    kernels.scope(() => {
      const three = uploadPlanes(
        kernels,
        [0, 1, 2].map(() => new Float32Array(W * H)),
        W,
        H,
      );
      expect(() => exposureWeights(kernels, three, null)).toThrow('exposureWeights.rgbv.count');
    });
  });
});

describe('frames of a preview', () => {
  const [W, H] = [40, 30];
  const frame = (value: number, tx: number): AlignedFrame => {
    const plane = makePlane(W, H);
    plane.data.fill(value);
    return {
      source: blockSource(kernels, greyPixels(plane), 1),
      geometry: similarityGeometry({ re: 1, im: 0, tx, ty: 0 }),
      tone: IDENTITY_TONE,
      noise: [1e-6],
    };
  };

  it('are what they are where they are alone, fade into each other, and leave the rest black', () => {
    const region = { x: 0, y: 0, width: 90, height: H };
    const row = kernels.scope(() => [
      ...planeView(kernels, featherFrames(kernels, [frame(0.2, 0), frame(0.8, 25)], region, 1), 1).subarray(
        15 * 90,
        16 * 90,
      ),
    ]);
    expect(row[10]!).toBeCloseTo(0.2, 2);
    expect(row[55]!).toBeCloseTo(0.8, 2);
    expect(row[80]).toBe(0);
    const shared = row.slice(27, 38);
    shared.forEach((v, i) => i > 0 && expect(v).toBeGreaterThanOrEqual(shared[i - 1]! - 1e-3));
    expect(shared[0]!).toBeLessThan(0.35);
    expect(shared.at(-1)!).toBeGreaterThan(0.65);
  });

  it('at a scale lie where they lie in full size', () => {
    const region = { x: 0, y: 0, width: 45, height: H / 2 };
    const row = kernels.scope(() => [
      ...planeView(kernels, featherFrames(kernels, [frame(0.2, 0), frame(0.8, 40)], region, 2), 0).subarray(
        7 * 45,
        8 * 45,
      ),
    ]);
    expect([row[10]!, row[30]!].map((v) => Number(v.toFixed(2)))).toEqual([0.2, 0.8]);
    expect(row[43]).toBe(0);
  });
});
