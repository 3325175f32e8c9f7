// A donor's tone by place and lightness: against merges that bend tones in a known way.
import { planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { addNoise } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import { fitToneByLight, fitToneField, renderRepair, type OutlineShape, type ToneField } from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [192, 144];
const plane = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
/** Turned metal: light rings on dark. */
const scene = plane((x, y) => 0.45 + 0.35 * Math.tanh(4 * Math.sin(Math.hypot(x - 96, y - 40) / 4)));
/** A merge that presses contrast, the more the further right. */
const pressed = (v: number, x: number): number => 0.4 + (0.75 - (0.3 * x) / W) * (v - 0.5);
const merge = scene.map((v, i) => pressed(v, i % W));
const donor = addNoise({ width: W, height: H, data: scene }, 0.003, 4).data;
const all = new Float32Array(W * H).fill(1);
const isIn = (x: number, y: number): boolean => x >= 64 && x < 128 && y >= 48 && y < 104;
const mask = plane((x, y) => (isIn(x, y) ? 1 : 0));
/** What is wrong in the mask tells nothing. */
const faulty = merge.map((v, i) => (mask[i] ? 0.9 : v));
const three = (p: Float32Array): Float32Array[] => [p, p, p];
const SHAPE: OutlineShape = {
  ...{ kind: 'outline', growPx: 0, featherPx: 0, strength: 1 },
  points: [
    [0, 0],
    [W, 0],
    [W, H],
    [0, H],
  ],
};

/** RMS in the mask of the donor, toned, against the merge as it should be. */
function left(tone: ToneField | null): number {
  const [base, frame] = [faulty, donor].map((data) => frameOf(kernels, { width: W, height: H, data }));
  return kernels.scope(() => {
    const whole = { x: 0, y: 0, width: W, height: H };
    const planes = renderRepair(kernels, base!, [frame!], [{ donor: 0, shape: SHAPE, ...(tone && { tone }) }], whole);
    const out = planeView(kernels, planes, 0);
    const wrong = out.map((v, i) => (mask[i] ? v - merge[i]! : 0));
    return Math.sqrt(wrong.reduce((s, v) => s + v * v, 0) / mask.reduce((s, v) => s + v, 0));
  });
}

it('light and dark of a place are each brought to what they are around it', () => {
  const size = { width: W, height: H };
  const plain = left(fitToneField(three(faulty), [...three(donor), all], mask, size));
  const byLight = left(fitToneByLight(three(faulty), [...three(donor), all], mask, size));
  expect(left(null)).toBeGreaterThan(0.1);
  expect(plain).toBeGreaterThan(0.05);
  expect(byLight).toBeLessThan(0.25 * plain);
});

it('a donor of the same tone is left as it is, and one offset is added to all', () => {
  const size = { width: W, height: H };
  const shifted = donor.map((v) => v - 0.04);
  const same = fitToneByLight(three(donor), [...three(donor), all], mask, size)!;
  expect(Math.max(...same.values.map(Math.abs))).toBeLessThan(1e-3);
  const offset = fitToneByLight(three(donor), [...three(shifted), all], mask, size)!;
  for (const v of [Math.min(...offset.values), Math.max(...offset.values)]) expect(v).toBeCloseTo(0.04, 3);
});

it('a lightness that is nowhere around takes what the nearest does; nothing around tells nothing', () => {
  const size = { width: W, height: H };
  // Around the mask all is dark.
  const dark = plane((x, y) => (isIn(x, y) ? 0.8 : 0.2));
  const lifted = dark.map((v) => v + 0.05);
  const field = fitToneByLight(three(lifted), [...three(dark), all], mask, size)!;
  expect(field.values.every((v) => Math.abs(v - 0.05) < 2e-3)).toBe(true);
  expect(fitToneByLight(three(lifted), [...three(dark), new Float32Array(W * H)], mask, size)).toBeNull();
  expect(() => fitToneByLight(three(lifted), three(dark), mask, { width: W, height: 2 })).toThrow('fitToneByLight');
});
