// How a learner does: sensitivity per defect over time, the difficulty that follows, and where defects are overlooked.
import type { ExerciseOrder, PairProgress, Practice, PracticeProgress, SolvedFault } from '@blendrak/contract';
import { dPrime, staircase, wilson } from '@blendrak/core/learn';
import type { StoredSolution } from '../../storage';

interface Trial {
  readonly fault: SolvedFault;
  readonly of: StoredSolution;
}

function trialsOf(solutions: readonly StoredSolution[]): Trial[] {
  return solutions.flatMap((of) => of.solution.faults.map((fault) => ({ fault, of })));
}

const isFound = ({ fault }: Trial): boolean => fault.mark !== null;

/** Sensitivity per defect that was ever hidden, the least first: that is what to practise. */
export function progressOf(solutions: readonly StoredSolution[]): PracticeProgress[] {
  const trials = trialsOf(solutions);
  const defects = [...new Set(trials.map((t) => t.fault.defect))];
  return defects
    .map((defect): PracticeProgress => {
      const own = trials.filter((t) => t.fault.defect === defect);
      const ids = [...new Set(own.map((t) => t.of.jobId))];
      const upTo = (count: number) => sensitivityOf(defect, solutions, new Set(ids.slice(0, count)));
      const { found, named, invented, dPrime: d, low, high } = upTo(ids.length);
      return {
        ...{ defect, shown: own.length, found, named, invented, dPrime: d, low, high },
        level: staircase(own.map(isFound)),
        course: ids.map((id, k) => ({
          at: own.find((t) => t.of.jobId === id)!.of.at,
          dPrime: upTo(k + 1).dPrime,
        })),
      };
    })
    .sort((a, b) => a.dPrime - b.dPrime);
}

function sensitivityOf(
  defect: SolvedFault['defect'],
  solutions: readonly StoredSolution[],
  ids: ReadonlySet<string>,
): Pick<PracticeProgress, 'found' | 'named' | 'invented' | 'dPrime' | 'low' | 'high'> {
  const counted = solutions.filter((s) => ids.has(s.jobId));
  const own = trialsOf(counted).filter((t) => t.fault.defect === defect);
  const found = own.filter(isFound).length;
  const named = own.filter((t) => t.fault.isNamed).length;
  const invented = counted.reduce(
    (sum, { solution: { marks, invented: none } }) => sum + none.filter((m) => marks[m]!.defect === defect).length,
    0,
  );
  const noises = counted.reduce((sum, s) => sum + s.noises, 0);
  return { found, named, invented, ...dPrime(found, own.length, Math.min(noises, invented), noises) };
}

/** Where defects lay, and how many were found there. */
export function placesOf(solutions: readonly StoredSolution[]): Practice['places'] {
  const trials = trialsOf(solutions);
  return (['near the middle', 'between', 'at the rim'] as const).map((place) => {
    const there = trials.filter((t) => t.fault.place === place);
    return { place, shown: there.length, found: there.filter(isFound).length };
  });
}

/** Step of difficulty for an order: as ordered, or where the learner stands with the defects that are asked for. */
export function levelOf(
  solutions: readonly StoredSolution[],
  { level, defects }: Pick<ExerciseOrder, 'level' | 'defects'>,
): number {
  if (level !== 'follow') return level;
  const finds = trialsOf(solutions).filter(({ fault }) => defects.length === 0 || defects.includes(fault.defect));
  const steps = [...new Set(finds.map((t) => t.fault.defect))].map((defect) =>
    staircase(finds.filter((t) => t.fault.defect === defect).map(isFound)),
  );
  // Whoever begins, begins with what is plain.
  if (steps.length === 0) return 0;
  return Math.round(steps.reduce((sum, step) => sum + step, 0) / steps.length);
}

/** How often the flawed one of two was told, by defect; the least sure first. */
export function pairProgressOf(solutions: readonly StoredSolution[]): PairProgress[] {
  const pairs = solutions.flatMap((s) => s.solution.pairs);
  return [...new Set(pairs.map((p) => p.defect))]
    .map((defect): PairProgress => {
      const own = pairs.filter((p) => p.defect === defect);
      const right = own.filter((p) => p.isRight).length;
      const { low, high } = wilson(right, own.length);
      return { defect, shown: own.length, right, low, high };
    })
    .sort((a, b) => a.low - b.low);
}
