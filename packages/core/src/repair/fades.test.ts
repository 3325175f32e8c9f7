// Straight fades: full on one side, nothing on the other, alike at any size and in any tile.
import fc from 'fast-check';
import { layShape, shapeRegion, type FadeShape } from './index';

const BOUNDS = { x: 0, y: 0, width: 200, height: 120 };

function fade(change: Partial<FadeShape> = {}): FadeShape {
  return { kind: 'fade', from: [60, 60], to: [100, 60], bounds: BOUNDS, strength: 1, ...change };
}

function laid(shape: FadeShape, region = BOUNDS, scale = 1): Float32Array {
  const mask = new Float32Array(region.width * region.height);
  layShape(mask, region, shape, scale);
  return mask;
}

it('is full before its beginning, half in its middle and nothing beyond its end', () => {
  const mask = laid(fade({ strength: 0.8 }));
  const row = mask.subarray(30 * 200, 31 * 200);
  expect(Math.min(...row.subarray(0, 60))).toBeCloseTo(0.8, 6);
  expect((row[79]! + row[80]!) / 2).toBeCloseTo(0.4, 3);
  expect(Math.max(...row.subarray(100))).toBe(0);
  // It only falls.
  expect([...row].every((v, x) => x === 0 || v <= row[x - 1]!)).toBe(true);
});

it('is nowhere beyond its region, which leaves out what lies beyond its end', () => {
  fc.assert(
    fc.property(
      fc.tuple(fc.integer({ min: -50, max: 250 }), fc.integer({ min: -50, max: 170 })),
      fc.tuple(fc.integer({ min: 5, max: 90 }), fc.double({ min: 0, max: 6.28, noNaN: true })),
      ([x, y], [length, turn]) => {
        const shape = fade({ from: [x, y], to: [x + length * Math.cos(turn), y + length * Math.sin(turn)] });
        const box = shapeRegion(shape);
        const out = laid(shape).findIndex((v, i) => {
          const [px, py] = [i % 200, Math.floor(i / 200)];
          return v > 0 && !(px >= box.x && py >= box.y && px < box.x + box.width && py < box.y + box.height);
        });
        expect(out).toBe(-1);
      },
    ),
  );
  expect(shapeRegion(fade())).toEqual({ x: 0, y: 0, width: 100, height: 120 });
});

it('is the same in parts, and reduced', () => {
  const shape = fade({ from: [40, 30], to: [120, 90] });
  const whole = laid(shape);
  const part = laid(shape, { x: 50, y: 40, width: 60, height: 30 });
  for (let y = 0; y < 30; y++)
    for (let x = 0; x < 60; x++) expect(part[y * 60 + x]).toBeCloseTo(whole[(y + 40) * 200 + x + 50]!, 6);
  const quarter = laid(shape, { x: 0, y: 0, width: 50, height: 30 }, 4);
  const mean = [0, 1, 2, 3].flatMap((v) => [0, 1, 2, 3].map((u) => whole[(60 + v) * 200 + 80 + u]! / 16));
  expect(quarter[15 * 50 + 20]).toBeCloseTo(
    mean.reduce((a, b) => a + b, 0),
    2,
  );
});

it.each([
  [{ to: [60, 60] }, /fade.to.*1 px from its beginning or more, received 0/],
  [{ from: [NaN, 0] }, /finite px/],
  [{ strength: 0 }, /fade.strength/],
] as const)('is refused where it tells nothing: %j', (change, words) => {
  expect(() => laid(fade(change as Partial<FadeShape>))).toThrow(words);
});
