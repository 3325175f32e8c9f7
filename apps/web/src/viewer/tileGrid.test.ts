// Tiles of a picture: they cover it without gap or overlap, on every level.
import fc from 'fast-check';
import { levelFor, scaleOf, tileAt, tilesTouching, topLevel } from './tileGrid';

const sizes = fc.record({ width: fc.integer({ min: 1, max: 9000 }), height: fc.integer({ min: 1, max: 9000 }) });

it('the tiles of a level cover the picture once', () => {
  fc.assert(
    fc.property(sizes, fc.nat(5), (picture, down) => {
      const level = Math.max(0, topLevel(picture) - down);
      const tiles = tilesTouching(picture, level, { x: 0, y: 0, ...picture });
      const area = tiles.reduce((sum, [c, r]) => {
        const { region } = tileAt(picture, level, c, r);
        return sum + region.width * region.height;
      }, 0);
      expect(area).toBe(picture.width * picture.height);
      expect(new Set(tiles.map(String)).size).toBe(tiles.length);
    }),
    { seed: 1 },
  );
});

it('a region finds its tiles and no others', () => {
  const picture = { width: 3000, height: 2000 };
  const top = topLevel(picture);
  expect(tilesTouching(picture, top, { x: 500, y: 100, width: 30, height: 10 })).toEqual([
    [0, 0],
    [1, 0],
  ]);
  expect(tilesTouching(picture, top, { x: 512, y: 0, width: 512, height: 512 })).toEqual([[1, 0]]);
  expect(tilesTouching(picture, top, { x: -90, y: 1990, width: 50, height: 300 })).toEqual([]);
  expect(tileAt(picture, top, 5, 3)).toEqual({
    ...{ region: { x: 2560, y: 1536, width: 440, height: 464 }, width: 440, height: 464 },
  });
  expect(tileAt(picture, top - 1, 2, 1)).toMatchObject({ width: 476, height: 488 });
});

it('the level taken is never coarser than the screen, as far as there is one', () => {
  const picture = { width: 8192, height: 4096 };
  expect([levelFor(picture, 1), levelFor(picture, 3)]).toEqual([topLevel(picture), topLevel(picture)]);
  for (const zoom of [0.9, 0.5, 0.3, 0.1])
    expect(1 / scaleOf(picture, levelFor(picture, zoom))).toBeGreaterThanOrEqual(zoom);
  expect(scaleOf(picture, levelFor(picture, 0.5))).toBe(2);
  expect(levelFor(picture, 0.0001)).toBe(0);
});
