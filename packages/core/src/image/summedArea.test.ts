// Summed-area tables against adding up by hand, and against the running sums of boxSmooth.
import fc from 'fast-check';
import { makePlane, type Plane } from './raster';
import { boxSmooth } from './smooth';
import { boxMean, boxMeansAlong, summedArea } from './summedArea';

const planeOf = (width: number, height: number, seed: number): Plane => {
  const plane = makePlane(width, height);
  plane.data.forEach((_, i) => (plane.data[i] = ((i * 2654435761 + seed) % 1000) / 1000));
  return plane;
};

it('is the mean by hand, inside and cut by each border', () => {
  const plane = planeOf(5, 4, 1);
  const table = summedArea(plane);
  for (const [x, y, r] of [
    [2, 2, 1],
    [0, 0, 1],
    [4, 3, 2],
    [1, 3, 0],
    [2, 1, 9],
  ] as const) {
    const inside: number[] = [];
    for (let v = Math.max(0, y - r); v <= Math.min(3, y + r); v++)
      for (let u = Math.max(0, x - r); u <= Math.min(4, x + r); u++) inside.push(plane.data[v * 5 + u]!);
    expect(boxMean(table, x, y, r)).toBeCloseTo(inside.reduce((s, w) => s + w, 0) / inside.length, 9);
  }
});

it('gives what boxSmooth gives, for any size and radius', () => {
  const side = fc.integer({ min: 1, max: 40 });
  fc.assert(
    fc.property(side, side, fc.integer({ min: 0, max: 12 }), fc.nat(1000), (width, height, radius, seed) => {
      const plane = planeOf(width, height, seed);
      const table = summedArea(plane);
      const smooth = boxSmooth(plane, radius).data;
      for (let i = 0; i < smooth.length; i++)
        expect(Math.abs(boxMean(table, i % width, Math.floor(i / width), radius) - smooth[i]!)).toBeLessThan(1e-5);
    }),
    { numRuns: 40 },
  );
});

it('along a row gives what it gives one by one, at every step', () => {
  const table = summedArea(planeOf(41, 9, 3));
  for (const every of [1, 2, 4])
    for (const radius of [0, 3, 7, 30]) {
      const out = new Float64Array(Math.floor(41 / every));
      boxMeansAlong(table, 5, radius, every, out);
      out.forEach((v, i) => expect(v).toBeCloseTo(boxMean(table, i * every, 5, radius), 12));
    }
});
