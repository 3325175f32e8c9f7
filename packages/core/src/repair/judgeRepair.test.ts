// What a repair did, on findings whose cells are counted by hand.
import type { Detection } from '../inspect';
import { calledHere, cellsUnder, judgeRepair, type Operation } from './index';

const GRID = 100;
/** Rows of cells as a finding: columns from–to of so many rows from the top row on. */
const found = (defect: Detection['defect'], from: number, to: number, top: number, rows: number): Detection => {
  const cells = Array.from({ length: rows * (to - from) }, (_, n) => {
    const [row, column] = [Math.floor(n / (to - from)), n % (to - from)];
    return (top + row) * GRID + from + column;
  });
  const bbox = { x: 4 * from, y: 4 * top, width: 4 * (to - from), height: 4 * rows };
  return { defect, cells, bbox, polygon: [], confidence: 0.8, measurements: {} };
};
const halo = found('halo', 10, 20, 10, 10);
const touched = new Set(found('halo', 8, 24, 8, 14).cells);
const by = { names: ['halo'], whole: 100, touched, gridWidth: GRID } as const;
const judge = (after: readonly Detection[], before: readonly Detection[] = [halo]) =>
  judgeRepair(halo, before, after, by);

it('what is left is counted in the finding’s box, by its name', () => {
  expect(judge([])).toEqual({ rest: 0, beside: 0, brought: null, planted: null });
  expect(judge([found('halo', 10, 20, 10, 4)]).rest).toBeCloseTo(0.4, 9);
  // The same defect elsewhere is not the finding.
  expect(judge([found('halo', 60, 70, 10, 4)]).rest).toBe(0);
});

it('what is new where the repair acts is planted; what lay apart was there before', () => {
  const ghost = found('ghost', 20, 26, 8, 4);
  expect(judge([ghost]).planted).toBe(ghost);
  expect(judge([found('ghost', 60, 66, 8, 4)]).planted).toBeNull();
  // Not even a quarter of it under the repair.
  expect(judge([found('ghost', 23, 50, 8, 4)]).planted).toBeNull();
});

it('another defect in its place is planted when it covers three tenths, unless the finding hid it; all of it counts beside', () => {
  const ghost = (rows: number): Detection => found('ghost', 10, 20, 10, rows);
  expect(judge([ghost(2)])).toMatchObject({ beside: 0.2, planted: null });
  expect(judge([ghost(4)]).planted?.defect).toBe('ghost');
  const soft = found('soft-patch', 10, 20, 10, 8);
  expect(judge([soft])).toMatchObject({ beside: 0.8, brought: 'soft-patch', planted: null });
  // What was there before, by that name, is not the repair's; nor is what no frame has.
  expect(judge([found('focus-gap', 10, 20, 10, 8)])).toEqual({ rest: 0, beside: 0, brought: null, planted: null });
  expect(judge([{ ...found('clipping', 10, 20, 10, 2), noFrameHasIt: true }]).beside).toBe(0);
  expect(judge([soft], [halo, soft]).beside).toBe(0);
});

it('a window that was clipped in part and is clipped all over is planted, wherever under the repair; what no frame has is not', () => {
  const [part, all] = [found('clipping', 18, 24, 8, 8), found('clipping', 18, 24, 8, 14)];
  expect(judge([all], [halo, part]).planted).toBe(all);
  expect(judge([part], [halo, part]).planted).toBeNull();
  expect(judge([{ ...all, noFrameHasIt: true }], [halo, part]).planted).toBeNull();
});

it('a place has the name of what covers most of it, if it is not called what it was; nobody paints over a focus gap unasked', () => {
  const border = found('border', 10, 20, 10, 5);
  const seam = found('seam', 10, 20, 10, 3);
  expect(calledHere(halo, [seam, border], GRID)).toBe('border');
  expect(calledHere(halo, [border, halo], GRID)).toBeNull();
  expect(calledHere(halo, [found('focus-gap', 10, 20, 10, 10), seam], GRID)).toBe('seam');
  expect(calledHere(halo, [found('border', 60, 70, 10, 5)], GRID)).toBeNull();
});

it('cells under a repair are those that its masks reach, and two beside them', () => {
  const square = (x: number): [number, number][] => [[x, 40], [x + 40, 40], [x + 40, 80], [x, 80]]; // prettier-ignore
  const shape = (x: number) => ({ kind: 'outline' as const, points: square(x), growPx: 0, featherPx: 0, strength: 1 });
  const operation: Operation = { donor: 1, shape: shape(40), also: [{ donor: 2, shape: shape(120) }] };
  const cells = cellsUnder(operation, { x: 0, y: 0, width: 200, height: 120 }, GRID);
  const has = (column: number, row: number): boolean => cells.has(row * GRID + column);
  expect([has(10, 10), has(8, 8), has(7, 10), has(30, 15), has(25, 15)]).toEqual([true, true, false, true, false]);
});
