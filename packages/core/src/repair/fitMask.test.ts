// Masks that fit their cause: grown over known differences, and no further.
import {
  bestFitting,
  fitMask,
  evenedShape,
  fittedShape,
  haloShape,
  layeredShape,
  likenessOf,
  maskGrowth,
  proposeRepair,
  repairSources,
  rimOf,
  type Likeness,
} from './index';

const [W, H] = [160, 128];
const plane = (value: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => value(i % W, Math.floor(i / W)));
const texture = (x: number, y: number): number => 0.4 + 0.15 * Math.sin(x * 1.3) * Math.cos(y * 0.9);
const all = plane(() => 1);
const NOISE = 1e-5;
const grid = W / 4;

function compared(
  merge: (x: number, y: number) => number,
  donor: (x: number, y: number) => number = texture,
  valid: Float32Array = all,
): Likeness {
  const [m, d] = [plane(merge), plane(donor)];
  return likenessOf([m, m, m], [d, d, d, valid], W, H, NOISE);
}

/** Cells of a rectangle, px. */
function cellsIn(x: number, y: number, width: number, height: number): number[] {
  const out: number[] = [];
  for (let v = y / 4; v < (y + height) / 4; v++) for (let u = x / 4; u < (x + width) / 4; u++) out.push(v * grid + u);
  return out;
}

function boxOf(mask: Uint8Array): [left: number, top: number, right: number, bottom: number] {
  const marked = [...mask.keys()].filter((i) => mask[i]);
  const [xs, ys] = [marked.map((i) => i % grid), marked.map((i) => Math.floor(i / grid))];
  return [Math.min(...xs) * 4, Math.min(...ys) * 4, Math.max(...xs) * 4 + 4, Math.max(...ys) * 4 + 4];
}

const isWrong = (x: number, y: number): boolean => x >= 48 && x < 112 && y >= 40 && y < 88;

describe('likenessOf', () => {
  it('is about nothing where both are the same, and large where one is blurred or lighter', () => {
    const same = compared(texture);
    expect(Math.max(...same.apart)).toBeLessThan(0.01);
    const lighter = compared((x, y) => texture(x, y) + (isWrong(x, y) ? 0.03 : 0));
    const blurred = compared((x, y) => (isWrong(x, y) ? 0.4 : texture(x, y)));
    const middle = 16 * grid + 20;
    expect(lighter.apart[middle]).toBeGreaterThan(20);
    expect(blurred.apart[middle]).toBeGreaterThan(100);
    expect(blurred.gain[middle]).toBeGreaterThan(100);
    expect(blurred.gain[0]).toBeCloseTo(1, 5);
  });

  it('knows where the donor shows nothing, and refuses what is not in whole cells', () => {
    const half = compared(
      texture,
      texture,
      plane((x) => (x < 80 ? 1 : 0)),
    );
    expect([half.valid[0], half.valid[grid - 1]]).toEqual([1, 0]);
    expect(() => likenessOf([all], [all], W + 1, H, NOISE)).toThrow('multiples of 4');
  });
});

describe('fitMask', () => {
  const growth = { reach: 20, leastGain: 0 };

  it('grows from a part of what is wrong over all of it, and ends where both agree', () => {
    const lighter = compared((x, y) => texture(x, y) + (isWrong(x, y) ? 0.03 : 0));
    const mask = fitMask(lighter, cellsIn(72, 56, 8, 8), growth);
    // What is smoothed over a cell on either side may be a cell more.
    const [left, top, right, bottom] = boxOf(mask);
    expect([left, top, right, bottom].map((v, k) => Math.abs(v - [48, 40, 112, 88][k]!) <= 4)).toEqual([
      true,
      true,
      true,
      true,
    ]);
    for (const cell of cellsIn(48, 40, 64, 48)) expect(mask[cell]).toBe(1);
  });

  it('keeps to the finding where there is nothing more, and never leaves its reach', () => {
    expect(fitMask(compared(texture), cellsIn(72, 56, 8, 8), growth).reduce((s, v) => s + v, 0)).toBe(4);
    const strip = compared((x, y) => texture(x, y) + (y >= 52 && y < 68 ? 0.05 : 0));
    const [left, , right] = boxOf(fitMask(strip, cellsIn(72, 56, 8, 8), { reach: 6, leastGain: 0 }));
    expect([left, right]).toEqual([48, 104]);
  });

  it('of what was drawn roughly around a thing takes the thing, and nothing where there is none', () => {
    const lighter = compared((x, y) => texture(x, y) + (isWrong(x, y) ? 0.03 : 0));
    const rough = { ...growth, isRough: true };
    const mask = fitMask(lighter, cellsIn(16, 16, 72, 100), rough);
    const [left, top, right, bottom] = boxOf(mask);
    expect([left, top, right, bottom].map((v, k) => Math.abs(v - [48, 40, 112, 88][k]!) <= 4)).toEqual([
      true,
      true,
      true,
      true,
    ]);
    expect(fitMask(compared(texture), cellsIn(16, 16, 72, 100), rough).includes(1)).toBe(false);
  });

  it('does not grow to where the donor is soft itself', () => {
    // The right half of what differs does so because the donor shows nothing sharp there.
    const soft = compared(
      (x, y) => (isWrong(x, y) && x < 80 ? 0.4 : texture(x, y)),
      (x, y) => (isWrong(x, y) && x >= 80 ? 0.4 : texture(x, y)),
    );
    const start = cellsIn(60, 56, 8, 8);
    expect(boxOf(fitMask(soft, start, { reach: 20, leastGain: 0.6 }))[2]).toBeLessThanOrEqual(84);
    expect(boxOf(fitMask(soft, start, growth))[2]).toBeGreaterThan(100);
    // Drawn around both halves, only the one that is sharper in the donor is taken.
    const drawn = cellsIn(32, 24, 100, 80);
    expect(boxOf(fitMask(soft, drawn, { reach: 6, leastGain: 0.6, isRough: true }))[2]).toBeLessThanOrEqual(84);
  });

  it('bridges a gap of a cell, and leaves alone what lies apart', () => {
    const islands = compared((x, y) => texture(x, y) + (isWrong(x, y) && (x < 72 || x >= 88) ? 0.03 : 0));
    expect(boxOf(fitMask(islands, cellsIn(56, 56, 8, 8), growth))[2]).toBeLessThanOrEqual(76);
    const gap = compared((x, y) => texture(x, y) + (isWrong(x, y) && (x < 72 || x >= 76) ? 0.03 : 0));
    expect(boxOf(fitMask(gap, cellsIn(56, 56, 8, 8), growth))[2]).toBeGreaterThan(100);
  });
});

describe('what is tried for a finding', () => {
  const square = (side: number): [number, number][] => [[0, 0], [side, 0], [side, side], [0, side]]; // prettier-ignore
  const bracket = { kind: 'bracket', nearSide: null } as const;
  const stack = { kind: 'focus-stack', nearSide: 'last' } as const;

  it('is the fitted mask first, then its own outline; in panoramas in the donor’s tone first, in brackets matched first', () => {
    const [own, fitted] = [square(40), [{ donor: 3, shape: fittedShape(square(60)) }]];
    const tries = (kind: 'panorama' | 'bracket') =>
      proposeRepair(own, fitted, { defect: 'ghost', kind, nearSide: null }).map(({ parts, isMatched }) => [
        ...[parts[0]!.shape.points === own, parts[0]!.donor, isMatched],
      ]);
    expect(tries('panorama')).toEqual([
      [false, 3, false],
      [false, 3, true],
      [true, 3, false],
      [true, 3, true],
    ]);
    expect(tries('bracket').map(([, , isMatched]) => isMatched)).toEqual([true, false, true, false]);
    expect(proposeRepair(own, fitted, { defect: 'halo', ...stack }).map((t) => t.isMatched)).toEqual([false, false]);
  });

  it('is nothing but the fitted mask where that had to leave out some of the finding', () => {
    const fitted = [{ donor: 3, shape: fittedShape(square(30)) }];
    const tries = proposeRepair(square(40), fitted, { defect: 'ghost', ...bracket });
    expect(tries.map(({ parts }) => parts[0]!.shape)).toEqual([fitted[0]!.shape, fitted[0]!.shape]);
  });

  it('in parts keeps to them, and is nothing where nothing was found', () => {
    const parts = [2, 5].map((donor) => ({ donor, shape: layeredShape(square(10 * donor)) }));
    const tries = proposeRepair(square(40), parts, { defect: 'border', ...stack });
    expect(tries.map((t) => t.parts.map((p) => p.donor))).toEqual([[2, 5]]);
    expect(proposeRepair(square(40), [], { defect: 'border', ...stack })).toEqual([]);
  });

  it('comes from single frames first, but crosses a picture in parts for a border', () => {
    const sources = (
      defect: 'border' | 'seam' | 'halo' | 'dust' | 'misalignment' | 'soft-patch',
      of: typeof stack | typeof bracket,
    ) => repairSources([4, 3, 2, 1], { defect, ...of });
    expect(sources('border', stack)).toEqual(['last', 4, 3, 2]);
    expect(sources('seam', stack)).toEqual([4, 'shown', 3, 2]);
    expect(sources('soft-patch', stack)).toEqual([4, 3, 2, 'last']);
    // Both cross depths: a merge of the place has all of it.
    expect(sources('halo', stack)).toEqual(['last', 4, 3, 2]);
    expect(sources('misalignment', stack)).toEqual(['last', 4, 3, 2]);
    // Exposures are all compared: see below.
    expect(sources('halo', bracket)).toEqual([4, 3, 2, 1]);
    expect(sources('border', bracket)).toEqual(['beside', 4, 3, 2, 1]);
    expect(sources('dust', bracket)).toEqual([4, 3, 2, 1, 'around']);
  });

  it('is of the exposures that fit around the mask, the best first, no more than are tried', () => {
    const rims: Record<number, number> = { 4: 9, 3: 1, 2: 5, 1: Infinity };
    const fitting = (sources: Parameters<typeof bestFitting>[0]) => bestFitting(sources, (k) => rims[k]!);
    expect(fitting([4, 3, 2, 1, 'around'])).toEqual([3, 2, 4, 'around']);
    expect(fitting([4, 'shown', 3])).toEqual([3, 'shown', 4]);
    expect(fitting(['beside'])).toEqual(['beside']);
  });

  it('fits the less the more its surroundings differ, whatever is in the mask', () => {
    const mask = new Uint8Array((W / 4) * (H / 4));
    for (const i of cellsIn(48, 40, 64, 48)) mask[i] = 1;
    const off = (by: number) => compared((x, y) => texture(x, y) + (isWrong(x, y) ? 0.3 : by));
    expect(rimOf(off(0), mask)).toBeLessThan(0.01);
    expect(rimOf(off(0.05), mask)).toBeGreaterThan(2 * rimOf(off(0.02), mask));
    expect(rimOf(off(0), new Uint8Array(mask.length).fill(1))).toBe(Infinity);
  });

  it('grows farthest for seams, and for other things by their size', () => {
    const reach = (defect: 'seam' | 'halo' | 'clipping', side: number): number =>
      maskGrowth(square(side), { defect, ...bracket }).reach;
    expect(reach('seam', 20)).toBeGreaterThan(reach('halo', 20));
    expect(reach('halo', 20)).toBe(reach('halo', 400));
    expect([20, 60, 400].map((side) => reach('clipping', side))).toEqual([6, 12, 20]);
    expect(maskGrowth(square(20), { defect: 'soft-patch', ...stack }).leastGain).toBeGreaterThan(0);
  });
});

it('the mask of a halo reaches over what lies between its parts, and farther beyond them than others', () => {
  // Beside and below a window.
  const parts = [[100, 20], [130, 20], [130, 120], [10, 120], [10, 90], [100, 90]] as const; // prettier-ignore
  const { points, growPx, ...rest } = haloShape(parts);
  const { points: own, growPx: usual, ...as } = evenedShape(parts);
  expect(own).toEqual(parts);
  expect(rest).toEqual(as);
  expect(growPx).toBeGreaterThan(usual);
  expect(points).toHaveLength(5);
  expect(points).toEqual(expect.arrayContaining(parts.filter(([x, y]) => !(x === 100 && y === 90))));
});
