// Cells on which truth lives: smoothing, majorities and groups against what can be counted by hand.
import { cellGrid, forNear, groups, majority, smoothCells } from './cells';

const grid = cellGrid(40, 24);

it('has a cell for every whole 4 × 4 px', () => {
  expect(grid).toEqual({ width: 10, height: 6 });
  expect(cellGrid(43, 27)).toEqual({ width: 10, height: 6 });
});

it('smooths to a mean of nine, of fewer along the rim, and keeps what is even', () => {
  const one = new Float32Array(60);
  one[2 * 10 + 4] = 9;
  const out = smoothCells(one, grid);
  for (let y = 1; y <= 3; y++) for (let x = 3; x <= 5; x++) expect(out[y * 10 + x]).toBeCloseTo(1, 6);
  expect(out.reduce((s, v) => s + v, 0)).toBeCloseTo(9, 5);
  const corner = new Float32Array(60);
  corner[0] = 4;
  expect(smoothCells(corner, grid)[0]).toBeCloseTo(1, 6);
  expect([...smoothCells(new Float32Array(60).fill(0.3), grid)].every((v) => Math.abs(v - 0.3) < 1e-6)).toBe(true);
});

it('a lone label yields to its neighbours, a straight border stays', () => {
  const labels = Uint8Array.from({ length: 60 }, (_, i) => (i % 10 < 5 ? 1 : 2));
  expect(majority(labels, grid)).toEqual(labels);
  const crumb = labels.slice();
  crumb[3 * 10 + 2] = 7;
  expect(majority(crumb, grid)).toEqual(labels);
});

it('joins cells across gaps narrower than the reach, and no wider', () => {
  const mask = new Uint8Array(60);
  for (const c of [10, 12, 16]) mask[c] = 1;
  expect(groups(mask, grid, 3).map((g) => [...g].sort((a, b) => a - b))).toEqual([[10, 12], [16]]);
  expect(groups(mask, grid, 4)).toHaveLength(1);
  expect(groups(mask, grid, 1)).toHaveLength(3);
  expect(groups(new Uint8Array(60), grid)).toEqual([]);
});

it('visits a square clipped to the grid, each cell once', () => {
  const seen: number[] = [];
  forNear(grid, 0, 2, (c) => seen.push(c));
  expect(seen).toEqual([0, 1, 2, 10, 11, 12, 20, 21, 22]);
  const middle: number[] = [];
  forNear(grid, 3 * 10 + 5, 1, (c) => middle.push(c));
  expect(new Set(middle).size).toBe(9);
});
