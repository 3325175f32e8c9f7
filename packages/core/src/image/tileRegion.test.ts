import fc from 'fast-check';
import { tileRegion } from './tileRegion';

test('tiles cover every pixel of the region exactly once and none outside', () => {
  const size = fc.integer({ min: 1, max: 40 });
  fc.assert(
    fc.property(size, size, size, size, fc.integer({ min: -9, max: 9 }), (width, height, across, down, x) => {
      const region = { x, y: 3, width, height };
      const seen = new Map<string, number>();
      for (const tile of tileRegion(region, across, down)) {
        for (let j = tile.y; j < tile.y + tile.height; j++) {
          for (let i = tile.x; i < tile.x + tile.width; i++) seen.set(`${i} ${j}`, (seen.get(`${i} ${j}`) ?? 0) + 1);
        }
      }
      const wanted = Array.from(
        { length: width * height },
        (_, n) => `${x + (n % width)} ${3 + Math.floor(n / width)}`,
      );
      expect([...seen.keys()].sort()).toEqual(wanted.sort());
      expect(new Set(seen.values())).toEqual(new Set([1]));
    }),
    { numRuns: 60 },
  );
});

test('a tile of no size is refused', () => {
  expect(() => tileRegion({ x: 0, y: 0, width: 8, height: 8 }, 0)).toThrow(/tileRegion\.tile/);
});
