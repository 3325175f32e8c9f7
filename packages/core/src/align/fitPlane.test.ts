// A flat thing seen by two cameras: the map between them from ties, some of them wrong.
import { applyMatrix, type Matrix3 } from '../frame';
import { median } from '../image';
import { makeRandom } from '../testing/pictures';
import { fitPlane, tiesOfBlocks } from '.';

const { hypot } = Math;

describe('fitPlane', () => {
  const truth: Matrix3 = [1.003, 0.012, -2.1, -0.003, 0.988, 1.4, 6e-6, -4e-6, 1];
  const random = makeRandom(4);
  const ties = Array.from({ length: 200 }, (_, n) => {
    const [x, y] = [random() * 1200, random() * 900];
    const [u, v] = applyMatrix(truth, x, y);
    const wrong = n % 10 === 0 ? 15 : 0;
    return { x, y, u: u + wrong + 0.05 * (random() - 0.5), v: v + 0.05 * (random() - 0.5), weight: 400 };
  });
  const errorOf = (m: Matrix3): number =>
    median(
      ties.map(({ x, y }) => {
        const [a, b] = [applyMatrix(m, x, y), applyMatrix(truth, x, y)];
        return hypot(a[0] - b[0], a[1] - b[1]);
      }),
    );

  it('recovers a perspective map within 0.02 px though a tenth of the ties is wrong; fewer freedoms leave more', () => {
    const fits = (['homography', 'affine', 'similarity', 'shift'] as const).map(
      (model) => fitPlane(ties, model, 1200, 900).matrix,
    );
    const errors = fits.map(errorOf);
    expect(errors[0]).toBeLessThan(0.02);
    expect(errors[1]).toBeGreaterThan(errors[0]!);
    expect(errors[2]).toBeGreaterThan(errors[1]!);
    expect(errors[3]).toBeGreaterThan(errors[2]!);
  });

  it('takes blocks measured against a similarity for the ties they are', () => {
    const toMoving = { re: 1.01, im: -0.002, tx: 3, ty: -1 };
    const blocks = ties.map(({ x, y, u, v, weight }) => ({
      x,
      y,
      shiftX: u - (1.01 * x + 0.002 * y + 3),
      shiftY: v - (-0.002 * x + 1.01 * y - 1),
      weight,
    }));
    tiesOfBlocks(blocks, toMoving).forEach((t, n) => {
      expect(t.u).toBeCloseTo(ties[n]!.u, 9);
      expect(t.v).toBeCloseTo(ties[n]!.v, 9);
    });
  });

  it('refuses fewer ties than freedoms', () => {
    expect(() => fitPlane(ties.slice(0, 5), 'homography', 1200, 900)).toThrow('at least 8 ties');
  });
});
