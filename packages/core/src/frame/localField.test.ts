// Local shifts: bilinear between the middles of cells, straight on to the edges, constant beyond, and carried into other merges.
import fc from 'fast-check';
import { frameToMerge, inPerspective, mergeToFrame, similarityGeometry, type FrameGeometry, type LocalField } from '.';
import { localShiftAt } from './localField';
import { shiftedGeometry } from './shifted';
import { applyMatrix, invertMatrix } from './homography';
import { centreShift, rescaleSimilarity, rotationDegOf, scaleOf, similarityAffine, applySimilarity } from './transform';

const FIELD: LocalField = {
  columns: 3,
  rows: 2,
  width: 90,
  height: 60,
  dx: [0, 2, 4, 0, 0, 0],
  dy: [0, 0, 0, 3, 3, 3],
};

it('is the grid’s value in the middle of a cell, the mean between two, straight on to the edges, and constant beyond them', () => {
  expect(localShiftAt(FIELD, 15, 15)).toEqual([0, 0]);
  expect(localShiftAt(FIELD, 45, 15)).toEqual([2, 0]);
  expect(localShiftAt(FIELD, 60, 15)).toEqual([3, 0]);
  expect(localShiftAt(FIELD, 75, 30)).toEqual([2, 1.5]);
  expect(localShiftAt(FIELD, 0, 15)).toEqual([-1, 0]);
  expect(localShiftAt(FIELD, -500, -500)).toEqual(localShiftAt(FIELD, 0, 0));
  expect(localShiftAt(FIELD, 900, 900)).toEqual(localShiftAt(FIELD, 90, 60));
});

it('follows shifts that change steadily exactly, all over the frame, whatever the grid', () => {
  const value = fc.double({ min: -5, max: 5, noNaN: true });
  const size = fc.integer({ min: 2, max: 6 });
  const share = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(size, size, fc.tuple(value, value, value), share, share, (columns, rows, [a, b, c], s, t) => {
      const at = (x: number, y: number): number => a + (b * x) / 90 + (c * y) / 60;
      const cells = Array.from({ length: columns * rows }, (_, k) =>
        at((((k % columns) + 0.5) / columns) * 90, ((Math.floor(k / columns) + 0.5) / rows) * 60),
      );
      const field = { columns, rows, width: 90, height: 60, dx: cells, dy: cells.map((v) => -v) };
      const [dx, dy] = localShiftAt(field, 90 * s, 60 * t);
      expect(dx).toBeCloseTo(at(90 * s, 60 * t), 9);
      expect(dy).toBeCloseTo(-at(90 * s, 60 * t), 9);
    }),
  );
});

describe('a merge that shows things a little beside', () => {
  const size = { width: 90, height: 60 };
  const plain = similarityGeometry({ re: 1.1, im: 0.1, tx: 5, ty: -3 });

  it('is the known one with a local field, and none where nothing is shifted', () => {
    const shift = (x: number, y: number): [number, number] => [0.02 * x, 1 - 0.01 * y];
    const shifted = shiftedGeometry(plain, size, shift);
    for (const [x, y] of [
      [20, 20],
      [60, 30],
      [80, 40],
    ] as const) {
      const [dx, dy] = shift(x, y);
      const found = mergeToFrame(shifted, x, y)!;
      const known = mergeToFrame(plain, x + dx, y + dy)!;
      expect(Math.hypot(found[0] - known[0], found[1] - known[1])).toBeLessThan(0.05);
    }
    const still = shiftedGeometry(plain, size, () => [0, 0]);
    expect(Math.max(...still.local!.dx.map(Math.abs), ...still.local!.dy.map(Math.abs))).toBeLessThan(1e-9);
  });

  it('keeps the field that was there already', () => {
    const both = shiftedGeometry({ ...plain, local: FIELD }, size, () => [1, 0]);
    const found = mergeToFrame(both, 60, 30)!;
    const known = mergeToFrame({ ...plain, local: FIELD }, 61, 30)!;
    expect(Math.hypot(found[0] - known[0], found[1] - known[1])).toBeLessThan(0.1);
  });
});

describe('a merge seen in perspective', () => {
  const toKnown = [1.02, 0.03, -4, -0.01, 0.98, 6, 3e-4, -1e-4, 1] as const;

  it.each<[string, FrameGeometry]>([
    ['a similarity', similarityGeometry({ re: 0.9, im: 0.2, tx: 12, ty: 4 })],
    ['a similarity with a field', { ...similarityGeometry({ re: 0.9, im: 0, tx: 12, ty: 4 }), local: FIELD }],
    ['a homography', { model: 'homography', toFrame: [1, 0.1, -5, 0, 1.1, 2, 2e-4, 1e-4, 1] }],
  ])('shows %s where the known merge showed it', (_name, geometry) => {
    const there = inPerspective(geometry, toKnown);
    const back = invertMatrix(toKnown);
    for (const [x, y] of [
      [10, 10],
      [45, 30],
      [80, 50],
    ] as const) {
      const known = frameToMerge(geometry, x, y)!;
      const seen = applyMatrix(back, known[0], known[1]);
      const found = frameToMerge(there, x, y)!;
      expect(Math.hypot(found[0] - seen[0], found[1] - seen[1])).toBeLessThan(0.05);
    }
  });

  it('cannot be one of a turned camera: its canvas has no perspective', () => {
    const turned = { model: 'rotating-camera' } as FrameGeometry;
    expect(() => inPerspective(turned, toKnown)).toThrow('inPerspective.geometry.model');
  });
});

describe('what a similarity is known by', () => {
  const s = { re: 1.2 * Math.cos(0.3), im: 1.2 * Math.sin(0.3), tx: 7, ty: -2 };

  it('scale, turn and how far the middle moves', () => {
    expect(scaleOf(s)).toBeCloseTo(1.2, 12);
    expect(rotationDegOf(s)).toBeCloseTo((0.3 * 180) / Math.PI, 10);
    const [x, y] = applySimilarity(s, 200, 150);
    const [dx, dy] = centreShift(s, 400, 300);
    expect([dx, dy]).toEqual([expect.closeTo(x - 200, 9), expect.closeTo(y - 150, 9)]);
  });

  it('for pictures twice as large it is the same but for its shift, and as six numbers it maps alike', () => {
    const large = rescaleSimilarity(s, 2);
    const [x, y] = applySimilarity(s, 30, 40);
    expect(applySimilarity(large, 60, 80)).toEqual([expect.closeTo(2 * x, 9), expect.closeTo(2 * y, 9)]);
    const [a, b, c, d, e, f] = similarityAffine(s);
    expect([a * 30 + b * 40 + c, d * 30 + e * 40 + f]).toEqual([expect.closeTo(x, 9), expect.closeTo(y, 9)]);
  });
});
