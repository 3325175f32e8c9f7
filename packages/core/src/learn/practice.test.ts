// A learner's answers: marked against known truth, and what they say of the learner.
import { dPrime, LEVELS, markAnswers, normalQuantile, placeOfFault, staircase, type LearnersMark } from '.';

const size = { width: 400, height: 320 };
const [columns, rows] = [100, 80];
const square = (x: number, y: number, n: number): number[] =>
  Array.from({ length: n * n }, (_, i) => (y + Math.floor(i / n)) * columns + x + (i % n));
const halo = { defect: 'halo', cells: square(10, 10, 8), donors: ['f2.jpg'] };
const ghost = { defect: 'ghost', cells: square(60, 40, 6), donors: [] };
const at = (x: number, y: number, part: Partial<LearnersMark> = {}): LearnersMark => ({
  polygon: [
    [x - 4, y - 4],
    [x + 4, y - 4],
    [x + 4, y + 4],
    [x - 4, y + 4],
  ],
  ...{ defect: 'halo', donor: null },
  ...part,
});

describe('an answer', () => {
  it('finds what is pointed at, also from just beside it, and counts what lies on nothing as invented', () => {
    const marked = markAnswers(size, 4, [halo, ghost], [at(56, 56), at(232, 172, { defect: 'seam' }), at(300, 20)]);
    expect(marked.faults).toEqual([
      { mark: 0, isNamed: true, isDonorRight: null },
      { mark: 1, isNamed: false, isDonorRight: null },
    ]);
    expect(marked.invented).toEqual([2]);
  });

  it('tells whether the donor was right, where one was chosen and one repairs it', () => {
    const of = (donor: string): boolean | null =>
      markAnswers(size, 4, [halo], [at(56, 56, { donor })]).faults[0]!.isDonorRight;
    expect([of('f2.jpg'), of('f9.jpg')]).toEqual([true, false]);
    expect(markAnswers(size, 4, [ghost], [at(250, 172, { donor: 'f1.jpg' })]).faults[0]!.isDonorRight).toBeNull();
  });

  it('of the whole picture finds nothing', () => {
    const all = at(0, 0, {
      polygon: [
        [0, 0],
        [400, 0],
        [400, 320],
        [0, 320],
      ],
    });
    expect(markAnswers(size, 4, [halo], [all])).toEqual({
      faults: [{ mark: null, isNamed: false, isDonorRight: null }],
      invented: [0],
    });
  });

  it('of a place that every merge of the set has is neither right nor wrong', () => {
    const spared = new Set(square(70, 2, 6));
    expect(markAnswers(size, 4, [halo], [at(290, 20)], spared).invented).toEqual([]);
  });

  it('two marks on one fault are one find, and none is invented', () => {
    const marked = markAnswers(size, 4, [halo], [at(44, 44, { defect: 'seam' }), at(60, 60)]);
    expect([marked.faults[0]!.mark, marked.faults[0]!.isNamed, marked.invented]).toEqual([1, true, []]);
  });
});

describe('sensitivity', () => {
  it('quantiles are those of tables', () => {
    expect(normalQuantile(0.975)).toBeCloseTo(1.959964, 6);
    expect(normalQuantile(0.5)).toBeCloseTo(0, 9);
    expect(normalQuantile(0.001)).toBeCloseTo(-3.090232, 6);
    expect(() => normalQuantile(1)).toThrow('below 1');
  });

  it('is z of hits less z of false alarms, and widens with few cases', () => {
    // 20 of 25 and 10 of 25 with half a case: (20.5/26, 10.5/26) → 0.8014 + 0.2427.
    const { dPrime: d, low, high } = dPrime(20, 25, 10, 25);
    expect(d).toBeCloseTo(normalQuantile(20.5 / 26) - normalQuantile(10.5 / 26), 9);
    expect(d).toBeCloseTo(1.044, 2);
    const few = dPrime(4, 5, 2, 5);
    expect(few.high - few.low).toBeGreaterThan(high - low);
    expect([low < d, high > d]).toEqual([true, true]);
  });

  it('a perfect learner is far above, a blind one at zero, a random one about zero', () => {
    expect(dPrime(40, 40, 0, 400).low).toBeGreaterThan(2);
    expect(dPrime(0, 40, 0, 40).dPrime).toBeCloseTo(0, 9);
    expect(dPrime(0, 2, 0, 70).dPrime).toBeCloseTo(0, 9);
    const random = dPrime(12, 40, 120, 400);
    expect(random.low).toBeLessThan(0);
    expect(random.high).toBeGreaterThan(0);
    expect(() => dPrime(5, 4, 0, 4)).toThrow('0 to 4');
  });
});

describe('difficulty', () => {
  it('rises after two finds in a row and falls after a miss, within its ends', () => {
    expect(staircase([])).toBe(0);
    expect(staircase([true, true])).toBe(1);
    expect(staircase([true, false, true])).toBe(0);
    expect(staircase([true, true, true, true, false])).toBe(1);
    expect(staircase(Array.from({ length: 40 }, () => true))).toBe(LEVELS.length - 1);
    expect(staircase(Array.from({ length: 40 }, () => false))).toBe(0);
  });

  it('settles where 71 of 100 are found', () => {
    // A learner who finds p = 1, 0.9, 0.7, 0.4, 0.1 at the levels, by a fixed sequence of chances.
    const chances = [1, 0.9, 0.7, 0.4, 0.1];
    let seed = 12345;
    const finds: boolean[] = [];
    for (let k = 0; k < 600; k++) {
      seed = (seed * 1103515245 + 12345) % 2 ** 31;
      finds.push(seed / 2 ** 31 < chances[staircase(finds)]!);
    }
    const share = finds.slice(100).filter(Boolean).length / 500;
    expect(Math.abs(share - 0.707)).toBeLessThan(0.06);
  });
});

it('places are told by the middle of a fault', () => {
  expect(placeOfFault(square(1, 40, 4), columns, rows)).toBe('at the rim');
  expect(placeOfFault(square(48, 38, 4), columns, rows)).toBe('near the middle');
  expect(placeOfFault(square(74, 38, 4), columns, rows)).toBe('between');
});
