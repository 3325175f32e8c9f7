// Mats around pictures: white, with a keyline, on all sides; and what is none.
import { findMat } from './findMat';
import type { Plane } from './raster';

const [W, H] = [120, 90];
type Value = (x: number, y: number) => number;
const planes = (value: Value): [Plane, Plane, Plane] => {
  const plane = (): Plane => ({
    width: W,
    height: H,
    data: Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W))),
  });
  return [plane(), plane(), plane()];
};
const picture: Value = (x, y) => 0.3 + 0.05 * ((x * 7 + y * 13) % 9);
const depth: Value = (x, y) => Math.min(x, y, W - 1 - x, H - 1 - y);

it('a white one is found to the pixel, compressed or not', () => {
  const matted: Value = (x, y) => (depth(x, y) < 12 ? 1 - 0.004 * ((x + y) % 2) : picture(x, y));
  expect(findMat(planes(matted))).toEqual({ x: 12, y: 12, width: W - 24, height: H - 24 });
});

it('one with a dark keyline is found with it, and one deeper at the bottom', () => {
  const keyed: Value = (x, y) => (depth(x, y) < 8 ? 0.95 : depth(x, y) < 10 ? 0.1 : picture(x, y));
  expect(findMat(planes(keyed))).toEqual({ x: 10, y: 10, width: W - 20, height: H - 20 });
  const weighted: Value = (x, y) => (depth(x, y) < 8 || y > H - 20 ? 0 : picture(x, y));
  expect(findMat(planes(weighted))).toEqual({ x: 8, y: 8, width: W - 16, height: H - 27 });
});

it('a picture without one has none, nor one that is empty along one side, nor an even one', () => {
  expect(findMat(planes(picture))).toBeNull();
  expect(findMat(planes((x, y) => (x < 10 ? 0 : picture(x, y))))).toBeNull();
  expect(findMat(planes(() => 0.5))).toBeNull();
});
