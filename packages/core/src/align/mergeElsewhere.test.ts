// What a merge made elsewhere is placed by: matched corners, the canvas, slow shifts; each against a known truth.
import fc from 'fast-check';
import {
  applyMatrix,
  rayOnCanvas,
  shiftedGeometry,
  similarityGeometry,
  mergeToFrame,
  type Canvas,
  type FrameSize,
  type Matrix3,
} from '../frame';
import { makeRandom } from '../testing/pictures';
import {
  fitCanvas,
  fitSmoothShift,
  estimateHomography,
  rotationBy,
  shiftAt,
  turn,
  unit,
  type CanvasTie,
  type KeyPoint,
  type ShiftTie,
  type Vector3,
} from './index';

const DOWN: Vector3 = [0, 1, 0];

/** Directions over 100° × 40°, and where a canvas with that attitude shows them. */
function tiesOf(canvas: Canvas, axes: Matrix3, outliers: number): CanvasTie[] {
  const random = makeRandom(3);
  return Array.from({ length: 240 }, (_, n): CanvasTie => {
    const yaw = (random() - 0.5) * 1.7;
    const pitch = (random() - 0.5) * 0.7;
    const ray = unit([Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), Math.cos(yaw) * Math.cos(pitch)]);
    const [x, y] = rayOnCanvas(canvas, ...turn(axes, ray))!;
    const off = n < outliers ? 300 * random() : 0.4 * (random() - 0.5);
    return { x: x + off, y: y - off, ray };
  });
}

describe('fitCanvas', () => {
  it.each(['flat', 'cylindrical', 'spherical'] as const)(
    'finds a %s canvas, its focal length within 0.2 % and all places within half a px, with a quarter of the ties wrong',
    (projection) => {
      const canvas: Canvas = { projection, focalPx: 830, axis: [912, 405] };
      const axes = rotationBy([0.03, 0.12, -0.02]);
      const ties = tiesOf(canvas, axes, 60);
      const fitted = fitCanvas(ties, DOWN, 1000, 1)!;
      expect(fitted.canvas.projection).toBe(projection);
      expect(Math.abs(fitted.canvas.focalPx / 830 - 1)).toBeLessThan(0.002);
      expect(fitted.agreeing.filter(Boolean).length).toBeGreaterThanOrEqual(175);
      for (const { ray } of ties) {
        const truth = rayOnCanvas(canvas, ...turn(axes, ray))!;
        const found = rayOnCanvas(fitted.canvas, ...turn(fitted.axes, ray))!;
        expect(Math.hypot(found[0] - truth[0], found[1] - truth[1])).toBeLessThan(0.5);
      }
    },
  );

  it('takes the plainer canvas for a narrow view, which all explain', () => {
    const canvas: Canvas = { projection: 'cylindrical', focalPx: 2000, axis: [300, 200] };
    const narrow = tiesOf(canvas, rotationBy([0, 0, 0]), 0).map(({ ray }): CanvasTie => {
      const near = unit([0.06 * ray[0], 0.06 * ray[1], 1]);
      const [x, y] = rayOnCanvas(canvas, ...near)!;
      return { x, y, ray: near };
    });
    expect(fitCanvas(narrow, DOWN, 2100, 1)!.canvas.projection).toBe('flat');
    expect(fitCanvas(narrow.slice(0, 7), DOWN, 2000, 1)).toBeNull();
  });
});

describe('fitSmoothShift', () => {
  const region = { x: 0, y: 0, width: 1200, height: 800 };
  const grid = (shift: (x: number, y: number) => readonly [number, number]): ShiftTie[] =>
    Array.from({ length: 24 * 16 }, (_, n) => {
      const [x, y] = [25 + 50 * (n % 24), 25 + 50 * Math.floor(n / 24)];
      const [dx, dy] = shift(x, y);
      return { x, y, u: x + dx, v: y + dy, weight: 100 };
    });

  it('follows a barrel of some px within 0.05 px', () => {
    const barrel = (x: number, y: number): [number, number] => {
      const [u, v] = [(x - 600) / 600, (y - 400) / 600];
      return [6 * u * (u * u + v * v), 6 * v * (u * u + v * v)];
    };
    const { shift, residualPx } = fitSmoothShift(grid(barrel), region)!;
    expect([shift.degree, residualPx < 0.05]).toEqual([3, true]);
    const [dx, dy] = shiftAt(shift, 1000, 650);
    const truth = barrel(1000, 650);
    expect(Math.hypot(dx - truth[0], dy - truth[1])).toBeLessThan(0.05);
  });

  /** What a lens leaves whose fifth order is not known: nothing in the middle, some px in the corners. */
  const rim = (x: number, y: number): [number, number] => {
    const [u, v] = [(x - 600) / 721, (y - 400) / 721];
    const q = (u * u + v * v) ** 2;
    return [8 * u * q, 8 * v * q];
  };

  it('follows what a lens bends at the rim, to the corners and beyond the last ties, where that is asked for', () => {
    const places = grid(rim);
    const inner = { x: 25, y: 25, width: 1150, height: 750 };
    const { shift, rimPx } = fitSmoothShift(places, inner, 4)!;
    expect(rimPx).toBeLessThan(0.1);
    for (const [x, y] of [
      [600, 400],
      [1175, 775],
      [1200, 800],
      [0, 0],
    ] as const) {
      const [dx, dy] = shiftAt(shift, x, y);
      // Of 8 px in the corner all but a twentieth: what is left is left to the next pass.
      expect(Math.hypot(dx - rim(x, y)[0], dy - rim(x, y)[1])).toBeLessThan(0.4);
    }
    expect(fitSmoothShift(places, inner)!.rimPx).toBeGreaterThan(0.2);
  });

  it('goes on no farther than a tenth beyond its ties', () => {
    const { shift } = fitSmoothShift(
      grid((x) => [0.01 * x, 0]),
      region,
    )!;
    expect(shiftAt(shift, 1300, 400)[0]).toBeCloseTo(13, 1);
    expect(shiftAt(shift, 9000, 400)[0]).toBeCloseTo(13.2, 1);
  });

  it.each([3, 4])('cannot follow a part that lies 6 px wrong, with degree %d: it stays evidence', (degree) => {
    const part = (x: number, y: number): [number, number] => (Math.hypot(x - 700, y - 300) < 130 ? [6, -3] : [0.5, 0]);
    const { shift } = fitSmoothShift(grid(part), region, degree)!;
    const [dx, dy] = shiftAt(shift, 700, 300);
    expect(Math.hypot(dx - 0.5, dy)).toBeLessThan(0.3);
  });

  it('bends nothing where only noise speaks, and says nothing of fewer than three ties', () => {
    const random = makeRandom(4);
    const noise = grid(() => [0.3 * (random() - 0.5), 0.3 * (random() - 0.5)]);
    expect(fitSmoothShift(noise, region)!.shift.degree).toBeLessThanOrEqual(1);
    expect(fitSmoothShift(noise.slice(0, 2), region)).toBeNull();
  });
});

it('a shift that changes slowly becomes a local field within 0.05 px', () => {
  const geometry = similarityGeometry({ re: 0.8, im: 0.1, tx: 30, ty: 12 });
  const size = { width: 900, height: 600 };
  const shift = (x: number, y: number): [number, number] => [2 * Math.sin(x / 300), 1.5 * Math.cos(y / 260)];
  const moved = shiftedGeometry(geometry, { ...size, name: 'a frame of more than its size' } as FrameSize, shift);
  expect(Object.keys(moved.local!).sort()).toEqual(['columns', 'dx', 'dy', 'height', 'rows', 'width']);
  fc.assert(
    fc.property(fc.integer({ min: 60, max: 640 }), fc.integer({ min: 90, max: 480 }), (x, y) => {
      const [dx, dy] = shift(x, y);
      const truth = mergeToFrame(geometry, x + dx, y + dy)!;
      const found = mergeToFrame(moved, x, y)!;
      fc.pre(truth[0] > 30 && truth[1] > 30 && truth[0] < 870 && truth[1] < 570);
      expect(Math.hypot(found[0] - truth[0], found[1] - truth[1])).toBeLessThan(0.05);
    }),
    { seed: 8, numRuns: 60 },
  );
});

describe('estimateHomography', () => {
  const random = makeRandom(12);
  const points = (map: (x: number, y: number) => readonly [number, number]): [KeyPoint[], KeyPoint[]] => {
    const plain = { factor: 1, strength: 1, descriptor: new Float32Array(64) };
    const a = Array.from({ length: 120 }, (): KeyPoint => ({ x: 900 * random(), y: 600 * random(), ...plain }));
    const b = a.map((p, n): KeyPoint => {
      const [x, y] = map(p.x, p.y);
      return n < 50 ? { ...plain, x: 900 * random(), y: 600 * random() } : { ...plain, x, y };
    });
    return [a, b];
  };
  const matches = Array.from({ length: 120 }, (_, n) => ({ a: n, b: n }));

  it('finds a perspective among 40 % wrong matches within half a px', () => {
    const h: Matrix3 = [0.7, 0.1, 40, -0.08, 0.72, 15, 4e-5, -3e-5, 1];
    const [a, b] = points((x, y) => applyMatrix(h, x, y));
    const found = estimateHomography(a, b, matches, 8, 900, 600)!;
    expect(found.inliers.length).toBeGreaterThanOrEqual(70);
    for (const [x, y] of [
      [100, 100],
      [800, 500],
    ] as const) {
      const [p, q] = [applyMatrix(found.matrix, x, y), applyMatrix(h, x, y)];
      expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeLessThan(0.5);
    }
  });

  it('tells how far a picture is turned, and knows chance from a match', () => {
    const [a, b] = points((x, y) => [600 - y, x]);
    expect(estimateHomography(a, b, matches, 8, 900, 600)!.turnRad).toBeCloseTo(Math.PI / 2, 2);
    const [c, d] = points(() => [900 * random(), 600 * random()]);
    expect(estimateHomography(c, d, matches, 8, 900, 600)).toBeNull();
  });
});
