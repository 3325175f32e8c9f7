// Changed masks against what a disc, a ramp and an inverse are by themselves; snapping against edges that are known.
import { checkMask, layShape, partsOf, placeOperation, shapeRegion, snapMask, tileState } from './index';
import type { MaskShape, Operation, OperationMask } from './index';

function brush(points: (readonly [number, number])[], sizePx: number): Operation {
  return { donor: 0, shape: { kind: 'stroke', points, sizePx, hardness: 1, strength: 1 } };
}

const AS_DRAWN: OperationMask = { growPx: 0, softenPx: 0, strength: 1, insideOut: null, snapped: null };
const PICTURE = { x: 0, y: 0, width: 160, height: 120 };

function lay(shape: MaskShape, region = PICTURE, scale = 1): Float32Array {
  const mask = new Float32Array(region.width * region.height);
  layShape(mask, region, shape, scale);
  return mask;
}

const stroke: Operation = brush([[70, 60]], 40);
const changed = (mask: Partial<OperationMask>, of = stroke): MaskShape =>
  partsOf({ ...of, mask: { ...AS_DRAWN, ...mask } })[0]!.shape;
const areaOf = (mask: Float32Array): number => mask.reduce((sum, v) => sum + v, 0);

it('a disc grows and shrinks to the disc of the other radius', () => {
  for (const growPx of [-12, -5, 7, 15]) {
    const mask = lay(changed({ growPx }));
    const radius = 20 + growPx;
    expect(Math.abs(Math.sqrt(areaOf(mask) / Math.PI) - radius)).toBeLessThan(0.6);
    // Nowhere is a px wrong that lies more than one px off the rim.
    const wrong = mask.filter((v, i) => {
      const off = Math.hypot((i % 160) + 0.5 - 70, Math.floor(i / 160) + 0.5 - 60) - radius;
      return Math.abs(off) > 1.5 && Math.abs(v - (off < 0 ? 1 : 0)) > 1e-5;
    });
    expect(wrong.length).toBe(0);
  }
});

it('softening fades over the px asked for, and leaves a straight rim where it is', () => {
  const points = [[40, 20], [120, 20], [120, 100], [40, 100]] as const; // prettier-ignore
  const box: MaskShape = { kind: 'outline', points, growPx: 0, featherPx: 0, strength: 1 };
  const plain = lay(changed({}, { donor: 0, shape: box }));
  const mask = lay(changed({ softenPx: 16 }, { donor: 0, shape: box }));
  const row = (values: Float32Array): number[] => [...values.slice(60 * 160, 61 * 160)];
  const rim = row(mask).findIndex((v) => v >= 0.5);
  expect(rim).toBe(row(plain).findIndex((v) => v >= 0.5));
  expect([row(mask)[40 - 10]!, row(mask)[40 + 10]!]).toEqual([0, expect.closeTo(1, 5)]);
  expect(row(mask)[40 - 5]!).toBeGreaterThan(0.02);
  expect(areaOf(mask)).toBeCloseTo(areaOf(plain), -2);
});

it('inside out within the picture it is what is missing to full, and weakened it is so everywhere', () => {
  const mask = lay(changed({ insideOut: PICTURE }));
  const drawn = lay(stroke.shape);
  expect(mask.every((v, i) => Math.abs(v + drawn[i]! - 1) < 1e-6)).toBe(true);
  const weak = lay(changed({ strength: 0.25 }));
  expect(weak.every((v, i) => Math.abs(v - 0.25 * drawn[i]!) < 1e-6)).toBe(true);
});

it('parts of a mask laid by themselves are the whole, and none lies beyond its region', () => {
  const shape = changed({ growPx: 9, softenPx: 12 });
  const whole = lay(shape);
  const part = { x: 50, y: 30, width: 37, height: 45 };
  const own = lay(shape, part);
  const differs = own.filter((v, i) => {
    const at = (Math.floor(i / part.width) + part.y) * 160 + (i % part.width) + part.x;
    return Math.abs(v - whole[at]!) > 1e-6;
  });
  expect([areaOf(own) > 500, differs.length]).toEqual([true, 0]);
  const { x, y, width, height } = shapeRegion(shape);
  const beyond = whole.filter((v, i) => {
    const [u, w] = [i % 160, Math.floor(i / 160)];
    return v > 0 && (u < x || w < y || u >= x + width || w >= y + height);
  });
  expect(beyond.length).toBe(0);
});

it('a tile over which a mask was changed has another name, and the same again when it is as before', () => {
  const state = (mask: OperationMask | null): string =>
    tileState([placeOperation({ ...stroke, id: 'a', mask })], PICTURE, 160);
  const plain = state(null);
  const grown = state({ ...AS_DRAWN, growPx: 3 });
  expect(new Set([plain, grown, state({ ...AS_DRAWN, growPx: 4 })]).size).toBe(3);
  expect([state(null), state({ ...AS_DRAWN, growPx: 3 })]).toEqual([plain, grown]);
});

it('what an operation does not bear is refused by name', () => {
  const several: Operation = { ...stroke, also: [{ donor: 1, shape: stroke.shape }] };
  const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0) };
  for (const [operation, mask, words] of [
    [stroke, { growPx: 101 }, /mask.growPx/],
    [stroke, { softenPx: -1 }, /mask.softenPx/],
    [stroke, { strength: 0 }, /mask.strength/],
    [several, { growPx: -2 }, /several parts/],
    [several, { insideOut: PICTURE }, /several parts/],
    [{ ...stroke, tone }, { insideOut: PICTURE }, /mask.insideOut/],
    [
      { ...stroke, donor: null, pull: { knots: [[70, 60, 1, 0]], reachPx: 10 } },
      { growPx: 2 },
      /how far a pull reaches/,
    ],
  ] as [Operation, Partial<OperationMask>, RegExp][])
    expect(() => checkMask(operation, { ...AS_DRAWN, ...mask })).toThrow(words);
  expect(() => checkMask(several, { ...AS_DRAWN, growPx: 2, softenPx: 4 })).not.toThrow();
});

describe('snapMask', () => {
  const [width, height] = [160, 120];
  /** A disc of another tone off the middle, with some grain. */
  const grain = (i: number): number => 0.01 * Math.sin(i * 12.9898 + 78.233 * (i % 7));
  const off = (i: number): number => Math.hypot((i % width) + 0.5 - 76, Math.floor(i / width) + 0.5 - 63) - 31;
  const disc = Float32Array.from({ length: width * height }, (_, i) => (off(i) < 0 ? 0.62 : 0.4) + grain(i));
  const flat = Float32Array.from({ length: width * height }, (_, i) => 0.4 + grain(i));
  const rough = lay(brush([[70, 60]], 64).shape);

  it('a mask drawn roughly lies on the edge, in whichever channel that is', () => {
    for (const planes of [
      [disc, flat, flat],
      [flat, flat, disc],
    ]) {
      const snapped = snapMask(rough, planes, width, height, 14);
      const wrong = snapped.filter((v, i) => Math.abs(off(i)) > 1.5 && (v === 1) !== off(i) < 0);
      expect(wrong.length).toBe(0);
    }
  });

  it('where there is no edge it stays, within a px or two', () => {
    const snapped = snapMask(rough, [flat, flat, flat], width, height, 14);
    const moved = snapped.filter((v, i) => {
      const from = Math.hypot((i % width) + 0.5 - 70, Math.floor(i / width) + 0.5 - 60) - 32;
      return Math.abs(from) > 4 && (v === 1) !== from < 0;
    });
    expect(moved.length).toBe(0);
  });

  it('a mask thinner than the band is not lost, and sizes that do not fit are refused', () => {
    const thin = lay(brush([[30, 60], [120, 60]], 6).shape); // prettier-ignore
    expect(areaOf(snapMask(thin, [flat, flat, flat], width, height, 20))).toBeGreaterThan(200);
    expect(() => snapMask(rough, [flat.subarray(1)], width, height, 5)).toThrow(/snapMask.mask.length/);
    expect(() => snapMask(rough, [flat], width, height, 0)).toThrow(/snapMask.reachPx/);
  });
});
