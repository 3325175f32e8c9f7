// A frame warped by every variant of a geometry shows each place where that geometry puts it.
import { IDENTITY_TONE, makePlane, type Plane } from '../image';
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { greyPixels } from '../testing/pictures';
import { blockSource } from '../testing/pixelSource';
import {
  mergeToFrame,
  similarityGeometry,
  warpFrame,
  warpFrameLuma,
  type AlignedFrame,
  type FrameGeometry,
  type LocalField,
} from '.';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [160, 120];
/** So smooth that resampling errs by next to nothing: a place is known by its value. */
const valueAt = (x: number, y: number): number => 0.5 + 0.2 * Math.sin(x / 17) + 0.2 * Math.cos(y / 13);
const picture = (): Plane => {
  const plane = makePlane(W, H);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = valueAt((i % W) + 0.5, Math.floor(i / W) + 0.5);
  return plane;
};
const frameOf = (geometry: FrameGeometry, levels = 1): AlignedFrame => ({
  source: blockSource(kernels, greyPixels(picture()), levels),
  geometry,
  tone: IDENTITY_TONE,
  noise: [1e-6],
});

const LOCAL: LocalField = { columns: 2, rows: 2, width: W, height: H, dx: [2, -1, 0, 1.5], dy: [0, 1, -2, 0.5] };
const TURN = { re: 0.95 * Math.cos(0.1), im: 0.95 * Math.sin(0.1), tx: 12, ty: -4 };
const camera = (projection: 'flat' | 'cylindrical' | 'spherical'): FrameGeometry => ({
  model: 'rotating-camera',
  canvas: { projection, focalPx: 150, axis: [70, 60] },
  rotation: [Math.cos(0.1), 0, -Math.sin(0.1), 0, 1, 0, Math.sin(0.1), 0, Math.cos(0.1)],
  focalPx: 155,
  centre: [W / 2, H / 2],
  halfDiagonalPx: Math.hypot(W, H) / 2,
  distortion: [0.02, 0],
  vignetting: [0, 0],
});
const GEOMETRIES: readonly (readonly [name: string, geometry: FrameGeometry])[] = [
  ['a similarity', similarityGeometry(TURN)],
  ['a similarity with a local field', { ...similarityGeometry(TURN), local: LOCAL }],
  ['a homography', { model: 'homography', toFrame: [1.05, 0.05, -6, -0.02, 1, 3, 4e-4, -2e-4, 1] }],
  ['a turned camera, flat', camera('flat')],
  ['a turned camera on a cylinder', camera('cylindrical')],
  ['a turned camera on a sphere', camera('spherical')],
];
/** The largest distance from 0. */
const furthest = (values: readonly number[]): number => values.reduce((most, v) => Math.max(most, Math.abs(v)), 0);

/** Places of a warped region: its value there, what the geometry says, and whether the frame says that it is there. */
function compare(geometry: FrameGeometry, region: { x: number; y: number; width: number; height: number }, scale = 1) {
  return kernels.scope(() => {
    const planes = warpFrame(kernels, frameOf(geometry, 3), region, scale);
    const [red, valid] = [planeView(kernels, planes, 0).slice(), planeView(kernels, planes, 3).slice()];
    return Array.from({ length: region.width * region.height }, (_, i) => {
      const x = (region.x + (i % region.width) + 0.5) * scale;
      const y = (region.y + Math.floor(i / region.width) + 0.5) * scale;
      const at = mergeToFrame(geometry, x, y);
      const inside = at !== null && at[0] > 3 && at[1] > 3 && at[0] < W - 3 && at[1] < H - 3;
      const outside = at === null || at[0] < -3 || at[1] < -3 || at[0] > W + 3 || at[1] > H + 3;
      return { value: red[i]!, valid: valid[i]!, wanted: inside ? valueAt(at[0], at[1]) : null, outside };
    });
  });
}

describe.each(GEOMETRIES)('%s', (_name, geometry) => {
  it('shows each place where the geometry puts it, within 0.01 of the scale, and knows where it ends', () => {
    const places = compare(geometry, { x: -20, y: -20, width: 200, height: 160 });
    const shown = places.filter((p) => p.wanted !== null);
    expect(shown.length).toBeGreaterThan(8000);
    expect(furthest(shown.map((p) => p.value - p.wanted!))).toBeLessThan(0.01);
    expect(shown.every((p) => p.valid === 1)).toBe(true);
    const beyond = places.filter((p) => p.outside);
    expect(beyond.length).toBeGreaterThan(1000);
    expect(beyond.every((p) => p.valid < 0.5)).toBe(true);
  });

  it('shows the same in a part, and in luma alone', () => {
    const whole = compare(geometry, { x: 0, y: 0, width: 120, height: 90 });
    const part = compare(geometry, { x: 48, y: 32, width: 40, height: 30 });
    const there = (i: number) => whole[(32 + Math.floor(i / 40)) * 120 + 48 + (i % 40)]!;
    expect(furthest(part.map((p, i) => p.value - there(i).value))).toBeLessThan(2e-3);
    const luma = kernels.scope(() =>
      planeView(kernels, warpFrameLuma(kernels, frameOf(geometry), { x: 48, y: 32, width: 40, height: 30 })).slice(),
    );
    expect(furthest(part.map((p, i) => (p.valid === 1 ? luma[i]! - p.value : 0)))).toBeLessThan(5e-3);
  });

  it('at half the size shows each place where it lies in full size', () => {
    const places = compare(geometry, { x: 10, y: 10, width: 40, height: 30 }, 2).filter((p) => p.wanted !== null);
    expect(places.length).toBeGreaterThan(600);
    expect(furthest(places.map((p) => p.value - p.wanted!))).toBeLessThan(0.012);
  });
});

it('a region that no part of the frame reaches is empty, and a scale below 1 is refused', () => {
  for (const [, geometry] of GEOMETRIES.slice(1)) {
    const far = compare(geometry, { x: 2000, y: 2000, width: 20, height: 20 });
    expect(far.every((p) => p.valid < 0.5)).toBe(true);
    expect(() => compare(geometry, { x: 0, y: 0, width: 8, height: 8 }, 0.5)).toThrow('warpFrame.scale');
  }
  expect(() => compare(GEOMETRIES[0]![1], { x: 0, y: 0, width: 8, height: 8 }, 0.5)).toThrow('warpFrame.scale');
});

it('light that the lens took is lifted: a corner at ¾ of the light becomes as light as the middle', () => {
  const plane = makePlane(W, H);
  const half = Math.hypot(W, H) / 2;
  for (let i = 0; i < plane.data.length; i++) {
    const r = Math.hypot((i % W) + 0.5 - W / 2, Math.floor(i / W) + 0.5 - H / 2) / half;
    plane.data[i] = 0.6 * (1 - 0.25 * r * r) ** (1 / 2.4);
  }
  const geometry: FrameGeometry = {
    ...(camera('spherical') as Extract<FrameGeometry, { model: 'rotating-camera' }>),
    rotation: [1, 0, 0, 0, 1, 0, 0, 0, 1],
    distortion: [0, 0],
    vignetting: [-0.25, 0],
  };
  const frame: AlignedFrame = {
    ...{ source: blockSource(kernels, greyPixels(plane), 1), geometry, tone: IDENTITY_TONE, noise: [1e-6] },
  };
  const [red, valid] = kernels.scope(() => {
    const planes = warpFrame(kernels, frame, { x: 0, y: 0, width: 140, height: 118 });
    return [planeView(kernels, planes, 0).slice(), planeView(kernels, planes, 3).slice()];
  });
  const lit = [...red].filter((_, i) => valid[i] === 1);
  expect(Math.max(...lit) - Math.min(...lit)).toBeLessThan(0.02);
});

describe('a frame in a merge that was finished', () => {
  const plain = frameOf(similarityGeometry({ re: 1, im: 0, tx: 0, ty: 0 }));
  const region = { x: 24, y: 16, width: 40, height: 32 };
  const contrast = {
    ...{ amount: 0.5, radiusPx: 20, columns: 2, rows: 1, nodePx: 80 },
    values: [0.4, 0.4, 0.4, 0.6, 0.6, 0.6],
  };
  /** Surroundings rise from node to node. */
  const around = (x: number): number => 0.4 + 0.2 * Math.min(1, Math.max(0, x / 80 - 0.5));

  it('has its local contrast raised, in colour and in luma, at any size', () => {
    for (const scale of [1, 2]) {
      const part = {
        x: region.x / scale,
        y: region.y / scale,
        width: region.width / scale,
        height: region.height / scale,
      };
      const before = planeView(kernels, warpFrame(kernels, plain, part, scale), 1).slice();
      const after = planeView(kernels, warpFrame(kernels, { ...plain, contrast }, part, scale), 1).slice();
      const luma = planeView(kernels, warpFrameLuma(kernels, { ...plain, contrast }, part, scale)).slice();
      before.forEach((v, i) => {
        const b = around((part.x + (i % part.width) + 0.5) * scale);
        expect(Math.abs(after[i]! - (v + 0.5 * (v - b)))).toBeLessThan(0.002);
        expect(Math.abs(luma[i]! - after[i]!)).toBeLessThan(0.003);
      });
    }
  });

  it('loses its colour after it was toned', () => {
    const tone = [
      [0, 0.5],
      [0, 1],
      [0.2, 0.2],
    ] as const;
    const mix = [0.5, 0.3, 0.2] as const;
    const before = planeView(kernels, warpFrame(kernels, plain, region), 0).slice();
    const mixed = warpFrame(kernels, { ...plain, tone, mix }, region);
    const luma = planeView(kernels, warpFrameLuma(kernels, { ...plain, tone, mix }, region)).slice();
    for (const c of [0, 1, 2])
      planeView(kernels, mixed, c).forEach((v, i) =>
        expect(Math.abs(v - (0.25 * before[i]! + 0.3 * before[i]! + 0.04))).toBeLessThan(1e-5),
      );
    luma.forEach((v, i) => expect(Math.abs(v - (0.55 * before[i]! + 0.04))).toBeLessThan(1e-5));
  });
});
