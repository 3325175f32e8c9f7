// Repairs carried over to a later merge: masks stay on what they were drawn on, and what cannot follow says why.
import { frameToMerge, mergeToFrame, similarityGeometry, type FrameGeometry } from '../frame';
import { carryOperation, type CarryMerge, type Operation, type OperationMask } from './index';

const at = (tx: number, ty: number, angle = 0.02): FrameGeometry =>
  similarityGeometry({ re: Math.cos(angle), im: Math.sin(angle), tx, ty });
const [A, B, C] = [at(3, -2), at(200, 10), at(-40, 30)];
const merge = (names: string, shift = 0, size = 400): CarryMerge => ({
  width: size,
  height: 300,
  frames: [...names].map((name) => {
    const { toMerge } = { A, B, C }[name] as ReturnType<typeof similarityGeometry>;
    return {
      id: `picture ${name}`,
      name,
      geometry: similarityGeometry({ ...toMerge, tx: toMerge.tx + shift, ty: toMerge.ty - shift }),
    };
  }),
});

const outline: Operation = {
  donor: 1,
  shape: { kind: 'outline', points: [[210, 60], [260, 60], [240, 110]], growPx: 2, featherPx: 4, strength: 1 }, // prettier-ignore
};
const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0) };

const taken = (carried: ReturnType<typeof carryOperation>): Operation => {
  if ('why' in carried) throw new Error(carried.why);
  return carried.operation;
};

it('a donor is found again by its name, whatever its number is now', () => {
  const carried = taken(carryOperation(outline, merge('ABC'), merge('CAB'), false));
  expect([carried.donor, carried.shape]).toEqual([2, outline.shape]);
});

it('of two frames of one name the same picture counts; one that was read anew counts by its name', () => {
  const to = merge('AB');
  const [, b] = to.frames as [unknown, (typeof to.frames)[number]];
  const twice = { ...to, frames: [{ ...b, id: 'another B' }, ...to.frames] };
  expect(taken(carryOperation(outline, merge('AB'), twice, false)).donor).toBe(2);
  const anew = { ...to, frames: [to.frames[0]!, { ...b, id: 'read anew' }] };
  expect(taken(carryOperation(outline, merge('AB'), anew, false)).donor).toBe(1);
});

it('a frame that is gone is named', () => {
  const also = [{ donor: 2, shape: outline.shape }];
  for (const operation of [outline, { ...outline, donor: 0, also }])
    expect(carryOperation(operation, merge('ABC'), merge('A'), true)).toEqual({
      why: expect.stringMatching(/^[BC] is no longer among the frames$/),
    });
});

it('where the frames lie elsewhere, a mask goes along with what its frame shows', () => {
  const [from, to] = [merge('AB'), merge('AB', 25, 440)];
  const stroke: Operation = {
    donor: 0,
    shape: { kind: 'stroke', points: [[50, 60, 0.5], [80, 90]], sizePx: 20, hardness: 1, strength: 1 }, // prettier-ignore
  };
  for (const operation of [outline, stroke]) {
    const { shape } = taken(carryOperation(operation, from, to, false));
    const [old, now] = [from, to].map(({ frames }) => frames[operation.donor!]!.geometry) as [
      FrameGeometry,
      FrameGeometry,
    ];
    if (shape.kind === 'fade' || shape.kind === 'picture' || shape.kind === 'changed') throw new Error(shape.kind);
    const before = (operation.shape as typeof shape).points;
    shape.points.forEach(([x, y], k) => {
      const [u, v] = mergeToFrame(old, before[k]![0], before[k]![1])!;
      expect(frameToMerge(now, u, v)).toEqual([expect.closeTo(x, 6), expect.closeTo(y, 6)]);
    });
  }
  const pressed = taken(carryOperation(stroke, from, to, false)).shape;
  expect(pressed.kind === 'stroke' && pressed.points.map((p) => p[2])).toEqual([0.5, undefined]);
});

it('what was measured on the picture holds for the same picture alone', () => {
  const matched = { ...outline, tone };
  expect(taken(carryOperation(matched, merge('AB'), merge('AB', 0), true)).tone).toBe(tone);
  expect(carryOperation(matched, merge('AB'), merge('AB'), false)).toEqual({
    why: expect.stringContaining('measured on the picture as it was'),
  });
});

it('a change of its mask goes along: inside out within the new picture, but not laid to edges that moved', () => {
  const mask: OperationMask = {
    ...{ growPx: 4, softenPx: 2, strength: 0.5, snapped: null },
    insideOut: { x: 0, y: 0, width: 400, height: 300 },
  };
  expect(taken(carryOperation({ ...outline, mask }, merge('AB'), merge('AB', 25, 440), false)).mask).toEqual({
    ...mask,
    insideOut: { x: 0, y: 0, width: 440, height: 300 },
  });
  const box = { x: 0, y: 0, width: 8, height: 8 };
  const snapped = { kind: 'picture' as const, box, columns: 1, rows: 1, packed: 'eJwDAAAAAAE=', strength: 1 };
  const laid = { ...outline, mask: { ...mask, insideOut: null, snapped } };
  expect(carryOperation(laid, merge('AB'), merge('AB', 25), false)).toEqual({
    why: expect.stringContaining('edges that lie elsewhere'),
  });
});
