// A donor's tone told by a patch that is soft and nothing else: against a merge whose tone is known everywhere.
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise, gaussianBlur } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import { fitToneByLight, fitToneWithin, renderRepair, type OutlineShape, type ToneField } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [192, 144];
const size = { width: W, height: H };
const plane = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
const scene = plane((x, y) => 0.45 + 0.2 * Math.sin(x / 2.1) * Math.cos(y / 1.7) + (x > 96 ? 0.15 : 0));
/** A merge that lifts the middle of the patch, which nothing around it tells of. */
const lift = plane((x, y) => 0.08 * Math.exp(-((x - 96) ** 2 + (y - 76) ** 2) / (2 * 24 ** 2)));
const ideal = scene.map((v, i) => v + lift[i]!);
const donor = addNoise({ width: W, height: H, data: scene }, 0.003, 4).data;
const isIn = (x: number, y: number): boolean => x >= 56 && x < 136 && y >= 40 && y < 112;
const mask = plane((x, y) => (isIn(x, y) ? 1 : 0));
const blurred = gaussianBlur({ width: W, height: H, data: ideal }, 2.5).data;
const soft = ideal.map((v, i) => (mask[i] ? blurred[i]! : v));
const all = new Float32Array(W * H).fill(1);
const three = (p: Float32Array): Float32Array[] => [p, p, p];
const SHAPE: OutlineShape = {
  ...{ kind: 'outline', growPx: 0, featherPx: 0, strength: 1 },
  points: [[0, 0], [W, 0], [W, H], [0, H]], // prettier-ignore
};

/** The donor with a field over the whole picture. */
function toned(tone: ToneField): Float32Array {
  const [base, frame] = [soft, donor].map((data) => frameOf(kernels, { width: W, height: H, data }));
  return kernels.scope(() =>
    planeView(
      kernels,
      renderRepair(kernels, base!, [frame!], [{ donor: 0, shape: SHAPE, tone }], { x: 0, y: 0, ...size }),
      0,
    ).slice(),
  );
}

/** RMS in the mask against the merge as it should be. */
const left = (picture: Float32Array): number => {
  const off = picture.map((v, i) => (mask[i] ? v - ideal[i]! : 0));
  return Math.sqrt(off.reduce((s, v) => s + v * v, 0) / mask.reduce((s, v) => s + v, 0));
};

it('what a soft patch is lifted by is told by itself, and its softness is not', () => {
  const around = fitToneByLight(three(soft), [...three(donor), all], mask, size)!;
  const before = toned(around);
  const within = fitToneWithin(three(soft), [...three(before), all], around, size);
  expect(left(soft)).toBeGreaterThan(0.06);
  expect(left(before)).toBeGreaterThan(0.025);
  expect(left(toned(within))).toBeLessThan(0.4 * left(before));
});

it('adds nothing where nothing differs, or nothing can be compared, and one offset to every level alike', () => {
  const levels = { columns: 3, rows: 2, levels: 2, values: Array.from({ length: 36 }, (_, n) => n / 100) };
  const values = (merge: Float32Array, valid: Float32Array): readonly number[] =>
    fitToneWithin(three(merge), [...three(scene), valid], levels, size).values;
  expect(values(scene, all)).toEqual(levels.values);
  expect(values(ideal, new Float32Array(W * H))).toEqual(levels.values);
  values(
    scene.map((v) => v + 0.05),
    all,
  ).forEach((v, n) => expect(v).toBeCloseTo(n / 100 + 0.05, 3));
});

it('refuses pictures of another size', () => {
  const field = { columns: 2, rows: 2, values: new Array<number>(12).fill(0) };
  expect(() => fitToneWithin(three(scene), [...three(scene), all], field, { width: W, height: 7 })).toThrow(
    'fitToneWithin.length: expected 1344 values',
  );
});
