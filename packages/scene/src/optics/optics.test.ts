// The lens and the views against closed forms.
import fc from 'fast-check';
import { blurDiameterPx, imageDistanceMm, leastBlurPx, vignetteAt } from './lens';
import { apply, multiply, pupilPosition, rotationOf, transpose } from './pose';
import { castRow, homographyBetween, makeRayRow, projectPoint, projectRay, type View } from './view';

const angle = fc.double({ min: -0.9, max: 0.9, noNaN: true });
const lens = { focalLengthMm: 24, fNumber: 8, pixelPitchMm: 1 };

function viewOf(over: Partial<View>): View {
  return {
    projection: 'flat',
    width: 600,
    height: 400,
    focalPx: 500,
    principal: [300, 200],
    rotation: rotationOf(0, 0, 0),
    positionMm: [0, 0, 0],
    distortion: 0,
    halfDiagonalPx: 360,
    ...over,
  };
}

/** World direction through a px. */
function rayAt(view: View, x: number, y: number): [number, number, number] {
  const row = makeRayRow(1);
  castRow(view, y, x - 0.5, 1, 1, row);
  return [row.x[0]!, row.y[0]!, row.z[0]!];
}

describe('the lens', () => {
  it('gives the blur disc of the thin-lens formula: 24 mm, f/8, focused at 1 m, a point at 0.4 m → 0.1107 mm', () => {
    expect(blurDiameterPx(lens, 400, 1000)).toBeCloseTo(0.1107, 4);
  });

  it('gives f²/(N·d) for a lens focused at infinity, and none for what is in focus', () => {
    expect(blurDiameterPx(lens, 400, Infinity)).toBeCloseTo((24 * 24) / 8 / 400, 9);
    expect(blurDiameterPx(lens, Infinity, Infinity)).toBe(0);
    expect(blurDiameterPx(lens, 700, 700)).toBe(0);
  });

  it('breathes by 1.0667 between 400 and 500 mm with 100 mm, and by 1.0504 from 500 mm to infinity with 24 mm', () => {
    const long = { ...lens, focalLengthMm: 100 };
    expect(imageDistanceMm(long, 400) / imageDistanceMm(long, 500)).toBeCloseTo(1.0667, 4);
    expect(imageDistanceMm(lens, 500) / imageDistanceMm(lens, Infinity)).toBeCloseTo(1.0504, 4);
  });

  it('blurs by diffraction in proportion to the effective f-number', () => {
    // 1:1 at f/8 works as f/16: 0.42 · 0.55 µm · 16 = 3.7 µm.
    const macro = { focalLengthMm: 50, fNumber: 8, pixelPitchMm: 1e-5 };
    expect(leastBlurPx(macro, 100) * 1e-5).toBeCloseTo(0.42 * 550e-6 * 16, 7);
    expect(leastBlurPx({ ...macro, pixelPitchMm: 0.02 }, Infinity)).toBeLessThan(0.5);
  });

  it('loses its share of light in the corner and none in the middle', () => {
    expect(vignetteAt(0.4, 0)).toBe(1);
    expect(vignetteAt(0.4, 1)).toBeCloseTo(0.6, 9);
    expect(vignetteAt(0.8, 3)).toBe(0);
  });
});

describe('poses', () => {
  it('are rotations: their transpose undoes them', () => {
    fc.assert(
      fc.property(angle, angle, angle, (yaw, pitch, roll) => {
        const r = rotationOf(yaw, pitch, roll);
        multiply(r, transpose(r)).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9));
      }),
    );
  });

  it('bring what lies to the right of a camera turned right into its middle, and what lies above one tilted up', () => {
    expect(apply(rotationOf(0.3, 0, 0), Math.sin(0.3), 0, Math.cos(0.3))[0]).toBeCloseTo(0, 9);
    expect(apply(rotationOf(0, 0.2, 0), 0, -Math.sin(0.2), Math.cos(0.2))[1]).toBeCloseTo(0, 9);
  });

  it('move the pupil by 2·r·sin(Δ/2) between two directions', () => {
    const [a, b] = [-0.17, 0.18].map((yaw) => pupilPosition(rotationOf(yaw, 0, 0), 60));
    expect(Math.hypot(a![0] - b![0], a![1] - b![1], a![2] - b![2])).toBeCloseTo(2 * 60 * Math.sin(0.175), 6);
  });
});

describe('views', () => {
  const inside = fc.record({
    x: fc.double({ min: 5, max: 595, noNaN: true }),
    y: fc.double({ min: 5, max: 395, noNaN: true }),
  });

  it.each([
    ['flat', viewOf({ rotation: rotationOf(0.4, -0.2, 0.1) })],
    ['distorted', viewOf({ rotation: rotationOf(-0.3, 0.1, 0), distortion: -0.08 })],
    ['cylindrical', viewOf({ projection: 'cylinder', rotation: rotationOf(0.2, 0, 0) })],
  ])('%s: a pixel’s ray falls back on the pixel within a millionth', (_name, view) => {
    fc.assert(
      fc.property(inside, ({ x, y }) => {
        const at = projectRay(view, ...rayAt(view, x, y))!;
        expect(at[0]).toBeCloseTo(x, 6);
        expect(at[1]).toBeCloseTo(y, 6);
      }),
    );
  });

  it('agree with the homography between them', () => {
    const a = viewOf({ rotation: rotationOf(0.05, 0.02, 0.01) });
    const b = viewOf({ rotation: rotationOf(-0.1, 0.08, 0.03), focalPx: 620 });
    const h = homographyBetween(a, b);
    fc.assert(
      fc.property(inside, ({ x, y }) => {
        const [u, v, w] = apply(h, x, y, 1);
        const at = projectRay(b, ...rayAt(a, x, y))!;
        expect(u / w).toBeCloseTo(at[0], 6);
        expect(v / w).toBeCloseTo(at[1], 6);
      }),
    );
  });

  it('see a point 60.8 px apart when the pupil turns 60 mm off the axis by 20°, 2 m against infinity, 35 mm, 6 µm', () => {
    const focalPx = 35 / 0.006;
    // Half the turn to either side, about an axis behind the pupil: the pupil moves sideways by 2·60·sin 10°.
    const [a, b] = [-1, 1].map((side) => viewOf({ focalPx, positionMm: [side * 60 * Math.sin(Math.PI / 18), 0, 0] }));
    const near = projectPoint(a!, [0, 0, 2000])![0] - projectPoint(b!, [0, 0, 2000])![0];
    expect(near).toBeCloseTo(60.8, 1);
  });

  it('a lens that draws the sides in shows nothing of what its polynomial would fold back into the frame', () => {
    const view = viewOf({ distortion: -0.035 });
    const at = (degrees: number) => projectRay(view, Math.tan((degrees * Math.PI) / 180), 0, 1);
    const seen = [10, 20, 30, 40].map((d) => at(d)![0]);
    expect([...seen].sort((a, b) => a - b)).toEqual(seen);
    for (let d = 40; d < 89; d++) {
      const place = at(d);
      expect(place === null || place[0] > view.width).toBe(true);
    }
  });

  it('have nothing behind them', () => {
    expect(projectRay(viewOf({}), 0, 0, -1)).toBeNull();
  });
});
