// Views of frames in a merge: there and back, against closed forms.
import fc from 'fast-check';
import {
  applyMatrix,
  canvasRay,
  composeMatrix,
  frameToMerge,
  invertMatrix,
  mergeToFrame,
  rayOnCanvas,
  rescaleMatrix,
  touchingSimilarity,
  vignetteLift,
  type Matrix3,
  type Projection,
  type TurnedGeometry,
} from '.';

const PROJECTIONS: readonly Projection[] = ['flat', 'cylindrical', 'spherical'];

function yawed(angle: number): Matrix3 {
  return [Math.cos(angle), 0, -Math.sin(angle), 0, 1, 0, Math.sin(angle), 0, Math.cos(angle)];
}

function viewOf(projection: Projection, over: Partial<TurnedGeometry> = {}): TurnedGeometry {
  return {
    model: 'rotating-camera',
    canvas: { projection, focalPx: 1000, axis: [800, 500] },
    rotation: yawed(0.3),
    focalPx: 1000,
    centre: [450, 300],
    halfDiagonalPx: 541,
    distortion: [0.04, -0.01],
    vignetting: [-0.3, 0.05],
    ...over,
  };
}

describe.each(PROJECTIONS)('a turned camera on a %s canvas', (projection) => {
  it('maps frame → merge → frame to itself within 1e-6 px', () => {
    const view = viewOf(projection);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 900, noNaN: true }),
        fc.double({ min: 0, max: 600, noNaN: true }),
        (x, y) => {
          const [mx, my] = frameToMerge(view, x, y)!;
          const [fx, fy] = mergeToFrame(view, mx, my)!;
          expect(Math.hypot(fx - x, fy - y)).toBeLessThan(1e-6);
        },
      ),
    );
  });

  it('keeps directions: canvas → ray → canvas', () => {
    const { canvas } = viewOf(projection);
    const at = rayOnCanvas(canvas, ...canvasRay(canvas, 1012, 340))!;
    expect(at[0]).toBeCloseTo(1012, 8);
    expect(at[1]).toBeCloseTo(340, 8);
  });
});

it('on a cylinder a camera turned by an angle lies focal length × angle aside', () => {
  const view = viewOf('cylindrical', { distortion: [0, 0] });
  expect(frameToMerge(view, 450, 300)![0]).toBeCloseTo(800 + 1000 * 0.3, 8);
});

it('on a flat canvas a camera turned by an angle lies focal length × its tangent aside, and nothing lies behind', () => {
  const view = viewOf('flat', { distortion: [0, 0] });
  expect(frameToMerge(view, 450, 300)![0]).toBeCloseTo(800 + 1000 * Math.tan(0.3), 8);
  expect(frameToMerge({ ...view, rotation: yawed(2) }, 450, 300)).toBeNull();
  expect(mergeToFrame({ ...view, rotation: yawed(2) }, 800, 500)).toBeNull();
});

it('lifts what the lens took: light 0.75 at the corner becomes 4 ⁄ 3', () => {
  const view = viewOf('flat', { vignetting: [-0.25, 0] });
  expect(vignetteLift(view, 450, 300)).toBe(1);
  expect(vignetteLift(view, 450 + 541, 300)).toBeCloseTo(4 / 3, 10);
});

it('the touching similarity has the place, scale and rotation of the middle', () => {
  const view = viewOf('flat', { rotation: yawed(0), focalPx: 500, distortion: [0, 0] });
  const s = touchingSimilarity(view, 900, 600);
  expect(s.re).toBeCloseTo(2, 4);
  expect(s.im).toBeCloseTo(0, 6);
  expect(s.tx + 2 * 450).toBeCloseTo(800, 6);
});

describe('perspective maps', () => {
  const m: Matrix3 = [1.02, 0.03, -5, -0.01, 0.98, 7, 1e-5, -2e-5, 1];

  it('a map and its inverse give the identity', () => {
    const one = composeMatrix(invertMatrix(m), m).map((v, _, all) => v / all[8]!);
    [1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((v, i) => expect(one[i]).toBeCloseTo(v, 10));
  });

  it('a matrix without inverse is refused', () => {
    expect(() => invertMatrix([1, 2, 3, 2, 4, 6, 0, 0, 1])).toThrow('invertMatrix.m');
  });

  it('rescaled, it maps pictures twice as large alike', () => {
    const [x, y] = applyMatrix(m, 100, 60);
    const [u, v] = applyMatrix(rescaleMatrix(m, 2), 200, 120);
    expect([u, v]).toEqual([expect.closeTo(2 * x, 8), expect.closeTo(2 * y, 8)]);
  });
});
