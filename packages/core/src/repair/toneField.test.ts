// A donor's tone brought to its surroundings: against offsets that are known everywhere.
import { allocPlanes, planeView, type Kernels } from '../kernels';
import { openTestKernels } from '../testing/openTestKernels';
import { blockTexture } from '../testing/pictures';
import { frameOf } from '../testing/stack';
import {
  addToneField,
  fieldOver,
  fitToneField,
  layShape,
  renderRepair,
  shapeRegion,
  type OutlineShape,
  type ToneField,
} from './index';

let kernels: Kernels;
beforeAll(async () => {
  kernels = await openTestKernels();
});

const [W, H] = [160, 128];
const plane = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
const texture = plane((x, y) => 0.4 + 0.1 * Math.sin(x / 3) * Math.cos(y / 5));
const disc = plane((x, y) => (Math.hypot(x - 80, y - 64) < 40 ? 1 : 0));
const all = new Float32Array(W * H).fill(1);
const fit = (offset: (x: number, y: number) => number, valid: Float32Array = all, mask: Float32Array = disc) =>
  fitToneField(
    [0, 1, 2].map((c) => texture.map((v, i) => v + (c + 1) * offset(i % W, Math.floor(i / W)))),
    [texture, texture, texture, valid],
    mask,
    { width: W, height: H },
  );

/** What a field adds at a place, R. */
function addedAt(field: NonNullable<ReturnType<typeof fit>>, x: number, y: number): number {
  const planes = allocPlanes(kernels, 1, 1, 3);
  [0, 1, 2].forEach((c) => planeView(kernels, planes, c).fill(0));
  addToneField(kernels, planes, { x, y, width: 1, height: 1 }, field, { x: 0, y: 0, width: W, height: H });
  return planeView(kernels, planes, 0)[0]!;
}

it('carries an even offset across the mask as it is, each channel its own', () => {
  const field = fit(() => 0.03)!;
  expect(addedAt(field, 80, 64)).toBeCloseTo(0.03, 4);
  const node = 3 * ((field.rows >> 1) * field.columns + (field.columns >> 1));
  expect(field.values.slice(node, node + 3).map((v) => Math.round(v * 1000) / 1000)).toEqual([0.03, 0.06, 0.09]);
});

it('carries a slope on: a plane is its own membrane', () => {
  const slope = (x: number, y: number): number => 0.0004 * (x - 80) - 0.0002 * (y - 64);
  const field = fit(slope)!;
  for (const [x, y] of [
    [80, 64],
    [60, 80],
    [100, 50],
  ] as const)
    // prettier-ignore
    expect(addedAt(field, x, y)).toBeCloseTo(slope(x + 0.5, y + 0.5), 2);
});

it('of a step between two sides makes a slope across the mask', () => {
  const field = fit((x) => (x < 80 ? -0.02 : 0.02))!;
  expect(addedAt(field, 10, 64)).toBeCloseTo(-0.02, 3);
  expect(addedAt(field, 150, 64)).toBeCloseTo(0.02, 3);
  expect(Math.abs(addedAt(field, 80, 64))).toBeLessThan(0.005);
  expect(addedAt(field, 60, 64)).toBeLessThan(addedAt(field, 100, 64));
});

it('knows nothing where the donor is not valid, and is none where nothing can be compared', () => {
  const half = plane((x) => (x < 80 ? 1 : 0));
  expect(
    addedAt(
      fit((x) => (x < 80 ? 0.01 : 0.15), half)!,
      150,
      64,
    ),
  ).toBeCloseTo(0.01, 3);
  expect(fit(() => 0.1, new Float32Array(W * H))).toBeNull();
  expect(fit(() => 0.1, all, all)).toBeNull();
  expect(() => fitToneField([texture], [texture], disc.slice(1), { width: W, height: H })).toThrow('20480 values');
});

it('another thing in the donor counts as little more than another tone', () => {
  // A corner that differs by far more than any tone.
  const field = fit((x, y) => (x < 16 && y < 16 ? 0.9 : 0.02))!;
  expect(Math.abs(addedAt(field, 80, 64) - 0.02)).toBeLessThan(0.006);
});

it('painted in with its tone matched, a darker frame leaves no step at the rim, at any size and in any part', () => {
  const scene = blockTexture(W, H, 5);
  const darker = { ...scene, data: scene.data.map((v) => v * 0.5 + 0.2) };
  const base = { ...scene, data: scene.data.map((v) => v * 0.5 + 0.25) };
  const points = [[50, 40], [110, 40], [110, 88], [50, 88]] as const; // prettier-ignore
  const shape: OutlineShape = { kind: 'outline', points, growPx: 4, featherPx: 8, strength: 1 };
  const box = shapeRegion(shape);
  const mask = new Float32Array(box.width * box.height);
  layShape(mask, box, shape);
  const draw = (tone?: ReturnType<typeof fitToneField>): Float32Array =>
    kernels.scope(() => {
      const operation = { donor: 0, shape, ...(tone && { tone }) };
      const out = renderRepair(kernels, frameOf(kernels, base), [frameOf(kernels, darker)], [operation], {
        x: 0,
        y: 0,
        width: W,
        height: H,
      });
      return planeView(kernels, out, 0).slice();
    });
  const cut = (from: Float32Array): Float32Array =>
    Float32Array.from(
      { length: box.width * box.height },
      (_, i) => from[(box.y + Math.floor(i / box.width)) * W + box.x + (i % box.width)]!,
    );
  const [merge, donor] = [cut(base.data), cut(darker.data)];
  const valid = new Float32Array(merge.length).fill(1);
  const tone = fitToneField([merge, merge, merge], [donor, donor, donor, valid], mask, box)!;
  const off = (picture: Float32Array): number => {
    const middle = 64 * W + 80;
    return Math.abs(picture[middle]! - base.data[middle]!);
  };
  expect(off(draw())).toBeGreaterThan(0.04);
  expect(off(draw(tone))).toBeLessThan(0.004);
  // In a part, and at half the size, the same place is the same.
  const whole = draw(tone);
  kernels.scope(() => {
    const operation = { donor: 0, shape, tone };
    const part = { x: 70, y: 50, width: 20, height: 20 };
    const view = planeView(
      kernels,
      renderRepair(kernels, frameOf(kernels, base), [frameOf(kernels, darker)], [operation], part),
      0,
    );
    expect(view[14 * 20 + 10]).toBeCloseTo(whole[64 * W + 80]!, 4);
  });
});

it('that reaches beyond what the mask touches adds the same at the same places', () => {
  const field = fit((x, y) => 0.0004 * (x - 80) - 0.0002 * (y - 64))!;
  const inner = { x: 32, y: 32, width: W - 64, height: H - 64 };
  const planes = allocPlanes(kernels, 1, 1, 3);
  [0, 1, 2].forEach((c) => planeView(kernels, planes, c).fill(0));
  addToneField(kernels, planes, { x: 90, y: 50, width: 1, height: 1 }, { ...field, marginPx: 32 }, inner);
  expect(planeView(kernels, planes, 0)[0]).toBeCloseTo(addedAt(field, 90, 50), 6);
});

it('holds as it did over a part of its box, and beyond it as at its rim', () => {
  const field = fit((x, y) => 0.0004 * (x - 80) - 0.0002 * (y - 64))!;
  const [from, part] = [
    { x: 0, y: 0, width: W, height: H },
    { x: 30, y: 20, width: 90, height: 70 },
  ];
  const moved = fieldOver(field, from, part);
  expect([moved.columns, moved.rows]).toEqual([
    Math.round((field.columns * 90) / W),
    Math.round((field.rows * 70) / H),
  ]);
  const added = (of: ToneField, box: typeof from, x: number, y: number): number =>
    kernels.scope(() => {
      const planes = allocPlanes(kernels, 1, 1, 3);
      [0, 1, 2].forEach((c) => planeView(kernels, planes, c).fill(0));
      addToneField(kernels, planes, { x, y, width: 1, height: 1 }, of, box);
      return planeView(kernels, planes, 0)[0]!;
    });
  for (const [x, y] of [
    [45, 40],
    [80, 55],
    [105, 70],
  ] as const)
    expect(added(moved, part, x, y)).toBeCloseTo(added(field, from, x, y), 3);
  expect(added(moved, part, 0, 55)).toBeCloseTo(added(moved, part, 30, 55), 5);
});
