// What a repair is worth, on pictures whose errors are known.
import type { Fault } from '@blendrak/scene';
import { MENDED, scoreRepair, type RgbPicture } from './scoreRepair';

const [W, H] = [64, 32];
const picture = (value: (x: number, y: number) => number): RgbPicture => {
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) data.fill(value(x, y), 3 * (y * W + x), 3 * (y * W + x) + 3);
  return { width: W, height: H, data };
};
/** Cells of columns from–to of the first row of cells. */
const fault = (from: number, to: number, part: Partial<Fault> = {}): Fault => ({
  ...{ defect: 'halo', cells: Array.from({ length: to - from }, (_, k) => from + k), shown: [0], donors: [1] },
  ...{ donorOptional: false, repairable: true, plain: true, meanRms: 0.1, natural: false },
  ...part,
});
const clean = picture(() => 100);
const wrong = (left: number, right: number): RgbPicture =>
  picture((x, y) => 100 + (y < 4 ? (x < 16 ? left : x < 32 ? right : 0) : 0));
const faults = [fault(0, 4), fault(4, 8)];

it('a fault is mended when seven tenths of its error are gone, and not before', () => {
  const score = scoreRepair(wrong(40, 40), wrong(12, 13), clean, faults);
  expect(score.falls.map((v) => v!.toFixed(3))).toEqual(['0.700', '0.675']);
  expect(score.falls.map((v) => v! >= MENDED)).toEqual([true, false]);
  expect(scoreRepair(wrong(40, 40), wrong(-12, 0), clean, faults).falls.every((v) => v! >= MENDED)).toBe(true);
});

it('what no frame repairs, and what is there by nature, is not asked for', () => {
  const some = [fault(0, 4, { repairable: false }), fault(4, 8, { natural: true })];
  expect(scoreRepair(wrong(40, 40), wrong(40, 40), clean, some)).toMatchObject({ falls: [null, null] });
});

it('damage is what changed outside the faults, in ΔE00; nothing where nothing changed', () => {
  expect(scoreRepair(wrong(40, 40), wrong(0, 0), clean, faults).damage).toBe(0);
  const spoilt = picture((_x, y) => (y < 4 ? 100 : 110));
  const { damage, worse } = scoreRepair(wrong(40, 40), spoilt, clean, faults);
  // Ten levels of a mid grey are some four units of lightness.
  expect(damage).toBeGreaterThan(2);
  expect(damage).toBeLessThan(5);
  // All of it is for the worse; what comes back to what it should be is a change, and no harm.
  expect(worse).toBeCloseTo(damage, 6);
  const mended = scoreRepair(spoilt, clean, clean, faults);
  expect(mended.damage).toBeCloseTo(damage, 6);
  expect(mended.worse).toBe(0);
});
