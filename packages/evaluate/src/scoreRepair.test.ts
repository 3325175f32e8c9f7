// What a repair is worth, on pictures whose errors are known.
import { MENDED, scoreRepair, type AskedFault, type RgbPicture } from './scoreRepair';

const [W, H] = [64, 32];
const picture = (value: (x: number, y: number) => number): RgbPicture => {
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) data.fill(value(x, y), 3 * (y * W + x), 3 * (y * W + x) + 3);
  return { width: W, height: H, data };
};
/** Cells of columns from–to of the first row of cells. */
const fault = (from: number, to: number, part: Partial<AskedFault> = {}): AskedFault => ({
  cells: Array.from({ length: to - from }, (_, k) => from + k),
  ...{ repairable: true, natural: false, moments: [] },
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

describe('something that moves', () => {
  // Four columns of cells; it stands in the first pair in one frame, in the second in another, and the merge shows half of each.
  const dark = (from: number, to: number): RgbPicture => picture((x, y) => (y < 4 && x >= from && x < to ? 40 : 100));
  const torn = picture((x, y) => (y < 4 && x < 16 ? 70 : 100));
  const first = dark(0, 8);
  const part = {
    width: 16,
    height: 4,
    data: Uint8Array.from({ length: 16 * 4 * 3 }, (_, k) => (Math.floor(k / 3) % 16 < 8 ? 100 : 40)),
  };
  const ghost = fault(0, 4, { moments: [{ picture: part, x: 0, y: 0, cells: [0, 1, 2, 3] }] });

  it('is mended when it is shown whole from any frame, and not when it is shown twice or left out', () => {
    const fallOf = (repaired: RgbPicture): number => scoreRepair(torn, repaired, first, [ghost]).falls[0]!;
    expect(fallOf(first)).toBe(1);
    expect(fallOf(dark(8, 16))).toBe(1);
    expect(fallOf(dark(0, 16))).toBeLessThan(0);
    expect(fallOf(dark(0, 0))).toBeLessThan(0);
    expect(fallOf(torn)).toBe(0);
  });

  it('shown from another frame is no damage', () => {
    const elsewhere = fault(0, 2, { moments: [{ picture: part, x: 0, y: 0, cells: [0, 1, 2, 3] }] });
    expect(scoreRepair(torn, dark(8, 16), first, [elsewhere]).damage).toBe(0);
  });
});
