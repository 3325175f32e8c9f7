// What goes wrong, over all jobs: counts with intervals, months, lessons.
import { defectSchema, type Lesson, type Log, type LogGrouping } from '@blendrak/contract';
import { countFaults, drawLessons } from '@blendrak/core/learn';
import { RequestError } from '../../shared/requestError';
import type { Services } from '../context';

/** Counts what goes wrong. */
export function logOf({ storage }: Pick<Services, 'storage'>, grouping: LogGrouping): Log {
  const facts = storage.jobFacts.all();
  const months = new Map<string, { jobs: number; findings: number }>();
  for (const { createdAt, findings } of facts) {
    const month = createdAt.slice(0, 7);
    const known = months.get(month) ?? { jobs: 0, findings: 0 };
    const count = findings.reduce((sum, f) => sum + f.count, 0);
    months.set(month, { jobs: known.jobs + 1, findings: known.findings + count });
  }
  const groups = countFaults(facts, grouping).map(({ name, jobs, cells }) => ({
    ...{ name, jobs },
    cells: cells.map((cell) => ({
      ...cell,
      defect: defectSchema.parse(cell.defect),
      share: { low: cell.share.low, high: cell.share.high },
      jobIds: [...cell.jobIds],
    })),
  }));
  return {
    ...{ grouping, groups, inspected: facts.length, jobs: storage.jobs.list().length - storage.exercises.ids().length },
    // By their names, so that a clock that ran backwards puts nothing out of order.
    months: [...months].map(([month, counts]) => ({ month, ...counts })).sort((a, b) => a.month.localeCompare(b.month)),
  };
}

/** Lessons with what was decided about them. */
export function lessonsOf({ storage }: Pick<Services, 'storage'>): Lesson[] {
  const choices = storage.lessonChoices.all();
  return drawLessons(storage.jobFacts.all()).map(({ defect, jobs, change, ...lesson }) => ({
    ...lesson,
    change: change && { ...change },
    defect: defectSchema.parse(defect),
    jobs: jobs.map((job) => ({ ...job })),
    state: choices.get(lesson.id) ?? 'open',
  }));
}

/** Takes a lesson, refuses it, or opens it again. */
export function chooseLesson(services: Pick<Services, 'storage'>, id: string, state: Lesson['state']): Lesson[] {
  const lessons = lessonsOf(services);
  if (!lessons.some((lesson) => lesson.id === id))
    throw new RequestError(404, `There is no lesson ${id} (any more): the jobs that spoke for it are gone.`);
  services.storage.lessonChoices.keep(id, state);
  return lessonsOf(services);
}
