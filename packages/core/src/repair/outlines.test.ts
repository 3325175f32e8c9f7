// Outlines as masks, against distances known in closed form.
import { layOutline, layShape, outlineRegion, shapeRegion, type Outline } from './index';

const region = { x: 0, y: 0, width: 96, height: 80 };
/** A square from (30, 30) to (60, 50). */
const square: Outline = {
  points: [
    [30, 30],
    [60, 30],
    [60, 50],
    [30, 50],
  ],
  growPx: 0,
  featherPx: 0,
  strength: 1,
};
const lay = (outline: Partial<Outline>, part = region, scale = 1): Float32Array => {
  const mask = new Float32Array(part.width * part.height);
  layOutline(mask, part, { ...square, ...outline }, scale);
  return mask;
};
const sum = (mask: Float32Array): number => mask.reduce((s, v) => s + v, 0);

it('is what the polygon encloses, px whose middles lie inside', () => {
  const mask = lay({});
  expect(sum(mask)).toBe(30 * 20);
  expect([mask[30 * 96 + 30], mask[29 * 96 + 30], mask[49 * 96 + 59], mask[49 * 96 + 60]]).toEqual([1, 0, 1, 0]);
});

it('grows by a distance, round at the corners, and shrinks alike', () => {
  // Area of a rectangle grown by r: its own, its sides times r, and a circle.
  expect(Math.abs(sum(lay({ growPx: 6 })) - (600 + 100 * 6 + Math.PI * 36))).toBeLessThan(25);
  expect(Math.abs(sum(lay({ growPx: -4 })) - 22 * 12)).toBeLessThan(3);
});

it('fades evenly over the feather, half way at half of it', () => {
  const mask = lay({ featherPx: 10 });
  // Straight to the right of the middle: px 60 lies half a px beyond the outline.
  const along = Array.from({ length: 12 }, (_, k) => mask[40 * 96 + 60 + k]!);
  expect(along[0]).toBeGreaterThan(0.98);
  expect((along[4]! + along[5]!) / 2).toBeCloseTo(0.5, 2);
  expect(along[10]).toBe(0);
  expect(along.every((v, k) => k === 0 || v <= along[k - 1]!)).toBe(true);
});

it('is the same in parts as whole, also where a part holds none of its corners', () => {
  const outline = { growPx: 5, featherPx: 7 };
  const whole = lay(outline);
  for (const part of [
    { x: 40, y: 35, width: 8, height: 8 },
    { x: 56, y: 44, width: 30, height: 30 },
  ]) {
    const cut = lay(outline, part);
    for (let y = 0; y < part.height; y++)
      for (let x = 0; x < part.width; x++)
        expect(cut[y * part.width + x]).toBeCloseTo(whole[(part.y + y) * 96 + part.x + x]!, 5);
  }
});

it('keeps its place at other sizes, and touches only its own region', () => {
  const small = lay({ growPx: 4, featherPx: 8 }, { x: 0, y: 0, width: 48, height: 40 }, 2);
  expect(
    Math.abs(4 * sum(small) - sum(lay({ growPx: 4, featherPx: 8 }))) / sum(lay({ growPx: 4, featherPx: 8 })),
  ).toBeLessThan(0.04);
  const box = outlineRegion({ ...square, growPx: 4, featherPx: 8 });
  lay({ growPx: 4, featherPx: 8 }).forEach((v, i) => {
    const [x, y] = [i % 96, Math.floor(i / 96)];
    if (x < box.x || y < box.y || x >= box.x + box.width || y >= box.y + box.height) expect(v).toBe(0);
  });
});

it('lies in its place also where a reduced region begins between two px', () => {
  const scale = 1.25;
  const outline = { growPx: 4, featherPx: 8 };
  const part = { x: 8.4, y: 8.8, width: 52, height: 46 };
  const cut = lay(outline, part, scale);
  expect(cut.every((v) => v >= 0 && v <= 1)).toBe(true);
  const [sumX, total] = cut.reduce(([sx, t], v, i) => [sx + v * (part.x + (i % part.width) + 0.5), t + v], [0, 0]);
  // The square's middle lies at 45; its px are whole ones, half of one is 0.63 px.
  expect(Math.abs((sumX / total) * scale - 45)).toBeLessThan(scale / 2);
  expect((total * scale ** 2) / sum(lay(outline))).toBeCloseTo(1, 1);
});

it('becomes the larger of what is there and itself, up to its strength', () => {
  const mask = new Float32Array(96 * 80).fill(0.3);
  layShape(mask, region, { kind: 'outline', ...square, strength: 0.8 });
  expect([mask[0], mask[40 * 96 + 45]]).toEqual([Math.fround(0.3), Math.fround(0.8)]);
  expect(shapeRegion({ kind: 'outline', ...square })).toEqual(outlineRegion(square));
});

it('refuses what encloses nothing', () => {
  expect(() => lay({ points: [[1, 1], [2, 2]] })).toThrow('at least 3'); // prettier-ignore
  expect(() => lay({ featherPx: -1 })).toThrow('0 to 500');
});
