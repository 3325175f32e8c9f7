// Finishings do to a picture what their names say, and leave the picture itself alone.
import { FINISHINGS } from './finishings';
import { makeRandom } from '../world/random';
import type { Raster } from '@blendrak/core/image';

const [WIDTH, HEIGHT] = [160, 120];
const random = makeRandom(3);
const planeOf = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
const rasterOf = (...planes: Float32Array[]): Raster => ({ width: WIDTH, height: HEIGHT, encoding: 'encoded', planes });
const even = rasterOf(...[0.2, 0.5, 0.7].map((v) => planeOf(() => v)));
const edge = rasterOf(...[0, 1, 2].map(() => planeOf((x) => (x < WIDTH / 2 ? 0.3 : 0.6))));
const noisy = rasterOf(...[0, 1, 2].map(() => planeOf(() => 0.5 + 0.02 * (random() - 0.5))));
const finished = (name: string, picture: Raster): Raster => FINISHINGS.find((f) => f.name === name)!.apply(picture, 5);
const spread = (data: Float32Array): number => {
  const mean = data.reduce((s, v) => s + v, 0) / data.length;
  return Math.sqrt(data.reduce((s, v) => s + (v - mean) ** 2, 0) / data.length);
};

it.each(FINISHINGS.map((f) => f.name))('%s leaves the picture it is given as it is', (name) => {
  const before = noisy.planes.map((p) => p.slice());
  const { width, height, planes } = finished(name, noisy);
  expect(noisy.planes.every((plane, c) => plane.every((v, i) => v === before[c]![i]))).toBe(true);
  for (const plane of planes) expect(plane).toHaveLength(width * height);
});

it.each(['sharpened', 'local-contrast', 'noise-reduced', 'keystone', 'reduced', 'cropped'])(
  '%s changes nothing in an even picture but its size',
  (name) => {
    finished(name, even).planes.forEach((plane, c) => {
      const off = plane.reduce((most, v) => Math.max(most, Math.abs(v - even.planes[c]![0]!)), 0);
      expect(off).toBeLessThan(1e-4);
    });
  },
);

it('sharpening overshoots at an edge by a share of its step, local contrast spreads that over tens of px', () => {
  const sharp = finished('sharpened', edge).planes[0]!;
  const local = finished('local-contrast', edge).planes[0]!;
  const row = 60 * WIDTH;
  expect(sharp[row + 80]).toBeGreaterThan(0.65);
  expect(sharp[row + 86]).toBeCloseTo(0.6, 3);
  expect(local[row + 80]! - 0.6).toBeCloseTo(0.6 * 0.15, 1);
  expect(local[row + 90]).toBeGreaterThan(0.63);
});

it('grain is of 6 levels, alike in all channels, and coarser than a pixel', () => {
  const { planes } = finished('grain', rasterOf(...[0, 1, 2].map(() => planeOf(() => 0.5))));
  const [r, g] = [planes[0]!, planes[1]!];
  expect(255 * spread(r)).toBeCloseTo(6, 1);
  expect(g.every((v, i) => v === r[i])).toBe(true);
  const beside = r.slice(1).reduce((s, v, i) => s + (v - 0.5) * (r[i]! - 0.5), 0) / r.length;
  expect(beside / spread(r) ** 2).toBeGreaterThan(0.2);
});

it('takes small noise away, and leaves edges where they are', () => {
  const clean = finished('noise-reduced', noisy).planes[0]!;
  expect(spread(clean)).toBeLessThan(0.6 * spread(noisy.planes[0]!));
  const kept = finished('noise-reduced', edge).planes[0]!;
  expect(kept[60 * WIDTH + 80]! - kept[60 * WIDTH + 79]!).toBeGreaterThan(0.25);
});

it('a curve darkens the dark and brightens the bright; black and white leaves one tone', () => {
  const curved = finished('curve', even).planes;
  expect(curved[0]![0]).toBeLessThan(0.2);
  expect(curved[1]![0]).toBeCloseTo(0.5, 6);
  expect(curved[2]![0]).toBeGreaterThan(0.7);
  const grey = finished('black-and-white', even).planes;
  expect(grey[0]![0]).toBeCloseTo(0.4 * 0.2 + 0.4 * 0.5 + 0.2 * 0.7, 6);
  expect(grey[2]![0]).toBe(grey[0]![0]);
});

it('frames, crops and reduces to the sizes said; a keystone spreads the top and not the middle', () => {
  expect(finished('white-border', even)).toMatchObject({ width: WIDTH + 120, height: HEIGHT + 120 });
  expect(finished('white-border', even).planes[0]![0]).toBe(1);
  expect(finished('reduced', even)).toMatchObject({ width: 96, height: 72 });
  expect(finished('cropped', even).width).toBeLessThan(WIDTH);
  const stripe = rasterOf(...[0, 1, 2].map(() => planeOf((x) => (x === 120 ? 1 : 0))));
  const middleOf = (y: number): number => {
    const row = finished('keystone', stripe).planes[0]!.subarray(y * WIDTH, (y + 1) * WIDTH);
    return row.reduce((s, v, x) => s + v * (x + 0.5), 0) / row.reduce((s, v) => s + v, 0);
  };
  // 40.5 px right of the middle: spread by 4 % from bottom to top.
  expect((middleOf(0) - 80) / (middleOf(HEIGHT - 1) - 80)).toBeCloseTo(1.04, 2);
});
