// Coverage, footprint and another merge, for every variant of a geometry, against counting px by px.
import fc from 'fast-check';
import { CELL_PX } from '../kernels';
import {
  canTouch,
  coveredCells,
  coveredShare,
  footprintOf,
  frameToMerge,
  inAnotherMerge,
  mergeToFrame,
  similarityGeometry,
  touchingSimilarity,
  type FrameGeometry,
  type LocalField,
} from '.';

const SIZE = { width: 90, height: 60 };
const LOCAL: LocalField = { columns: 2, rows: 1, width: 90, height: 60, dx: [3, -2], dy: [0, 4] };
const TURN = { re: 0.9 * Math.cos(0.2), im: 0.9 * Math.sin(0.2), tx: 20, ty: 8 };
const camera = (projection: 'flat' | 'cylindrical' | 'spherical'): FrameGeometry => ({
  model: 'rotating-camera',
  canvas: { projection, focalPx: 80, axis: [60, 50] },
  rotation: [Math.cos(0.2), 0, -Math.sin(0.2), 0, 1, 0, Math.sin(0.2), 0, Math.cos(0.2)],
  focalPx: 85,
  centre: [45, 30],
  halfDiagonalPx: Math.hypot(45, 30),
  distortion: [0.03, 0],
  vignetting: [0, 0],
});
const GEOMETRIES: readonly (readonly [name: string, geometry: FrameGeometry])[] = [
  ['a similarity', similarityGeometry(TURN)],
  ['a similarity with a local field', { ...similarityGeometry(TURN), local: LOCAL }],
  ['a homography', { model: 'homography', toFrame: [1.1, 0.1, -9, -0.05, 1, 4, 1e-3, -5e-4, 1] }],
  [
    'a homography with a local field',
    { model: 'homography', toFrame: [1.1, 0.1, -9, -0.05, 1, 4, 1e-3, -5e-4, 1], local: LOCAL },
  ],
  ['a turned camera, flat', camera('flat')],
  ['a turned camera on a cylinder', camera('cylindrical')],
  ['a turned camera on a sphere', camera('spherical')],
];

/** Whether the frame shows a place, by itself. */
function shows(geometry: FrameGeometry, x: number, y: number): boolean {
  const at = mergeToFrame(geometry, x, y);
  return at !== null && at[0] >= 0 && at[1] >= 0 && at[0] <= SIZE.width && at[1] <= SIZE.height;
}

describe.each(GEOMETRIES)('%s', (_, geometry) => {
  it('maps a point there and back within 0.05 px', () => {
    fc.assert(
      fc.property(fc.double({ min: 2, max: 88, noNaN: true }), fc.double({ min: 2, max: 58, noNaN: true }), (x, y) => {
        const at = frameToMerge(geometry, x, y)!;
        const back = mergeToFrame(geometry, at[0], at[1])!;
        expect(Math.hypot(back[0] - x, back[1] - y)).toBeLessThan(0.05);
      }),
      { seed: 3 },
    );
  });

  it('covers the cells whose every px it shows, counted px by px', () => {
    const cells = { x: -2, y: -3, width: 40, height: 34 };
    const covered = coveredCells(geometry, SIZE, cells);
    let wrong = 0;
    for (let y = 0; y < cells.height; y++) {
      for (let x = 0; x < cells.width; x++) {
        let all = 1;
        for (let j = 0; j <= CELL_PX; j++)
          for (let i = 0; i <= CELL_PX; i++)
            if (!shows(geometry, (cells.x + x) * CELL_PX + i, (cells.y + y) * CELL_PX + j)) all = 0;
        wrong += all === covered[y * cells.width + x] ? 0 : 1;
      }
    }
    expect(covered.reduce((n, v) => n + v, 0)).toBeGreaterThan(60);
    // An edge that bulges within a cell is all that counting its corners may miss.
    expect(wrong).toBeLessThanOrEqual(2);
  });

  it('has a footprint that holds all it shows, and little else', () => {
    const footprint = footprintOf(geometry, SIZE)!;
    let [inside, seen] = [0, 0];
    for (let y = -60; y < 200; y += 2) {
      for (let x = -60; x < 240; x += 2) {
        if (!shows(geometry, x, y)) continue;
        seen += 1;
        if (canTouch(footprint, { x, y, width: 1, height: 1 })) inside += 1;
      }
    }
    expect([seen > 200, inside]).toEqual([true, seen]);
    expect((footprint.width * footprint.height) / 4).toBeLessThan(2 * seen);
    expect(canTouch(footprint, { x: 900, y: 900, width: 50, height: 50 })).toBe(false);
    expect(canTouch(footprint, { x: 900, y: 900, width: 50, height: 50 }, 2000)).toBe(true);
  });

  it('in a merge of half the size with another corner shows the same places', () => {
    const toKnown = { re: 2, im: 0, tx: 14, ty: -6 };
    const other = inAnotherMerge(geometry, toKnown);
    for (const [x, y] of [
      [10, 12],
      [25, 31],
      [33, 18],
    ] as const) {
      const [a, b] = [mergeToFrame(other, x, y)!, mergeToFrame(geometry, 2 * x + 14, 2 * y - 6)!];
      expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-9);
    }
  });

  it('is touched in the middle by a similarity, to first order', () => {
    const s = touchingSimilarity(geometry, SIZE.width, SIZE.height);
    const [mx, my] = frameToMerge(geometry, 45, 30)!;
    expect(Math.hypot(s.re * 45 - s.im * 30 + s.tx - mx, s.im * 45 + s.re * 30 + s.ty - my)).toBeLessThan(1e-9);
  });
});

it('a frame that is partly behind the camera may be anywhere', () => {
  const wide = { ...camera('flat'), rotation: [0, 0, -1, 0, 1, 0, 1, 0, 0] } as FrameGeometry;
  const footprint = footprintOf(wide, SIZE);
  expect([footprint, canTouch(footprint, { x: 1e6, y: 0, width: 1, height: 1 })]).toEqual([null, true]);
});

it('a cylinder cannot be turned in its plane', () => {
  expect(() => inAnotherMerge(camera('cylindrical'), { re: 0, im: 1, tx: 0, ty: 0 })).toThrow(
    'inAnotherMerge.toKnown: expected a turn of at most 0.01°',
  );
});

it('half of a frame is half of a merge of its size', () => {
  const half = similarityGeometry({ re: 1, im: 0, tx: 45, ty: 0 });
  expect(coveredShare(half, SIZE, SIZE)).toBeCloseTo(0.5, 1);
});
