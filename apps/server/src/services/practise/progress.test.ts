// What answers say of a learner: scripted ones whose scores are known.
import type { SolvedFault } from '@blendrak/contract';
import type { StoredSolution } from '../../storage';
import { levelOf, placesOf, progressOf } from './progress';

const faultOf = (part: Partial<SolvedFault> = {}): SolvedFault => ({
  ...{ defect: 'halo', rows: [], isPlain: true, place: 'between', donors: [], mark: 0, isNamed: true },
  ...{ isDonorRight: null, inspection: 'halo' },
  ...part,
});

/** An exercise with two halos, of which some were found, and marks on nothing. */
function solved(k: number, found: number, invented = 0): StoredSolution {
  const marks = Array.from({ length: invented + 1 }, () => ({ polygon: [], defect: 'halo' as const, donor: null }));
  return {
    ...{ jobId: `e${k}`, at: `2026-11-${String(10 + k)}T08:00:00.000Z`, noises: 40 },
    solution: {
      ...{ pairs: [], repair: null },
      ...{ marks, tookS: 60, cellPx: 4, invented: Array.from({ length: invented }, (_, m) => m) },
      faults: [0, 1].map((n) => faultOf({ mark: n < found ? 0 : null, place: n === 0 ? 'at the rim' : 'between' })),
    },
  };
}
const series = (found: number, invented = 0): StoredSolution[] =>
  Array.from({ length: 10 }, (_, k) => solved(k, found, invented));

it('a perfect learner is far above chance, a blind one at it, and one who marks everything is no better', () => {
  const [perfect] = progressOf(series(2));
  const [blind] = progressOf(series(0));
  const [wild] = progressOf(series(2, 40));
  expect([perfect!.shown, perfect!.found, perfect!.invented]).toEqual([20, 20, 0]);
  expect(perfect!.low).toBeGreaterThan(2);
  expect(blind!.dPrime).toBeCloseTo(0, 6);
  expect(wild!.dPrime).toBeLessThan(0.8);
  expect([perfect!.level, blind!.level]).toEqual([4, 0]);
});

it('the course tells how it went, exercise by exercise', () => {
  const [progress] = progressOf([solved(0, 0), solved(1, 1), solved(2, 2), solved(3, 2)]);
  const course = progress!.course.map((c) => c.dPrime);
  expect(course).toHaveLength(4);
  expect(course[3]).toBeGreaterThan(course[0]!);
});

it('places in which defects were overlooked are told', () => {
  expect(placesOf(series(1))).toEqual([
    { place: 'near the middle', shown: 0, found: 0 },
    { place: 'between', shown: 10, found: 0 },
    { place: 'at the rim', shown: 10, found: 10 },
  ]);
});

it('the difficulty follows the learner, or is as ordered', () => {
  const order = { level: 'follow' } as const;
  expect(levelOf([], { ...order, defects: [] })).toBe(0);
  expect(levelOf(series(2), { ...order, defects: [] })).toBe(4);
  expect(levelOf(series(0), { ...order, defects: [] })).toBe(0);
  expect(levelOf(series(2), { ...order, defects: ['seam'] })).toBe(0);
  expect(levelOf([], { ...order, defects: [], level: 3 })).toBe(3);
});
