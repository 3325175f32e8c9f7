// A mask that ends before the cells it is to spare, and keeps the rest as it was.
import { layOutline, type Outline } from './outlines';
import { spareCells } from './spareCells';
import type { OutlineShape } from './shapes';

const GRID = 60;
const SIDE = 4 * GRID;
const square: OutlineShape = {
  ...{ kind: 'outline', growPx: 0, featherPx: 8, strength: 1 },
  points: [[40, 40], [200, 40], [200, 200], [40, 200]], // prettier-ignore
};
const cell = (x: number, y: number): number => Math.floor(y / 4) * GRID + Math.floor(x / 4);
const cellsIn = (x: number, y: number, width: number, height: number): number[] =>
  Array.from({ length: (width / 4) * (height / 4) }, (_, n) =>
    cell(x + 4 * (n % (width / 4)), y + 4 * Math.floor(n / (width / 4))),
  );
const laid = (shapes: readonly Outline[]): Float32Array => {
  const mask = new Float32Array(SIDE * SIDE);
  for (const shape of shapes) layOutline(mask, { x: 0, y: 0, width: SIDE, height: SIDE }, shape);
  return mask;
};

it('nothing of the mask lies over what is spared; two cells from it the mask is as it was', () => {
  const [before, after] = [laid([square]), laid(spareCells(square, cellsIn(160, 100, 60, 40), GRID))];
  let [inside, far] = [0, 0];
  for (let y = 0; y < SIDE; y++)
    for (let x = 0; x < SIDE; x++) {
      const i = y * SIDE + x;
      const apart = Math.max(160 - x, 100 - y, y - 139, 0);
      if (x >= 160 && apart === 0) inside = Math.max(inside, after[i]!);
      if (apart > 20) far = Math.max(far, Math.abs(after[i]! - before[i]!));
    }
  expect(inside).toBeLessThan(0.05);
  expect(far).toBeLessThan(0.05);
});

it('what was grown stays as large, and is not grown again', () => {
  const grown = { ...square, growPx: 12 };
  const [only, ...others] = spareCells(grown, cellsIn(100, 0, 4, 4), GRID);
  expect(others).toEqual([]);
  expect(only).toMatchObject({ growPx: 0, featherPx: 8, strength: 1 });
  const sum = (mask: Float32Array): number => mask.reduce((s, v) => s + v, 0);
  expect(sum(laid([only!])) / sum(laid([grown]))).toBeCloseTo(1, 1);
});

it('what is spared in the middle is no hole, which an outline cannot have: masks to both sides leave it out', () => {
  const shapes = spareCells(square, cellsIn(108, 100, 24, 24), GRID);
  expect(shapes).toHaveLength(2);
  const mask = laid(shapes);
  expect(mask[112 * SIDE + 120]).toBeLessThan(0.05);
  for (const [x, y] of [[60, 112], [180, 112], [120, 60], [120, 180]] as const) expect(mask[y * SIDE + x]).toBe(1); // prettier-ignore
});

it('a strip through the middle leaves two masks; all of it leaves none', () => {
  expect(spareCells(square, cellsIn(0, 112, 240, 16), GRID)).toHaveLength(2);
  expect(spareCells(square, cellsIn(0, 0, 240, 240), GRID)).toEqual([]);
});
