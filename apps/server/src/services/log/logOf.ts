// What goes wrong, over all jobs: counts with intervals, months, lessons, and what the jobs tell about bodies and lenses.
import { defectSchema, type Calibration, type Lesson, type Log, type LogGrouping } from '@blendrak/contract';
import {
  breathingPerDioptre,
  countFaults,
  drawLessons,
  gatherCalibrations,
  type CalibrationReading,
} from '@blendrak/core/learn';
import { noiseAt } from '@blendrak/core/image';
import { RequestError } from '../../shared/requestError';
import { pictureInfo, type MergeBody } from '../../storage';
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

/** Readings by merge: they never change, and reading a merge's body takes longer than all else. */
const READINGS = new Map<string, readonly CalibrationReading[]>();

/** What the jobs tell about bodies and lenses. */
export function calibrationsOf(services: Services): Calibration[] {
  const { storage } = services;
  const readings = storage.jobs.list().flatMap((job) => {
    const head = storage.merges.headOf(job.id);
    if (!head || storage.exercises.has(job.id)) return [];
    const known = READINGS.get(head.id);
    const made = known ?? readingsOf(services, { id: job.id, name: job.name }, head.id, job.created_at);
    if (!known) READINGS.set(head.id, made);
    return made;
  });
  return gatherCalibrations(readings).map(({ detail, jobs, ...rest }) => ({
    ...rest,
    words: detail,
    jobs: jobs.map((job) => ({ ...job })),
  }));
}

function readingsOf(
  { storage, merges }: Services,
  job: CalibrationReading['job'],
  mergeId: string,
  at: string,
): CalibrationReading[] {
  const body = merges.body(mergeId);
  const infos = body.frames.map((f) => {
    const row = storage.pictures.find(f.pictureId);
    return row ? pictureInfo(row) : null;
  });
  const exif = infos.find((info) => info?.exif)?.exif;
  // What no file names cannot be told apart from others.
  if (!exif?.camera && !exif?.lens) return [];
  const common = {
    camera: exif.camera ?? 'a body without a name',
    lens: exif.lens ?? 'a lens without a name',
    job,
    at,
  };
  const found: CalibrationReading[] = [];
  const breathing = breathingPerDioptre(
    body.frames.map((f) => f.scale),
    infos.map((info) => info?.exif?.focusDistanceM ?? null),
  );
  if (body.facts.kind === 'focus-stack' && breathing !== null)
    found.push({
      ...common,
      what: 'breathing',
      value: breathing,
      unit: '% per dioptre',
      detail: 'change of scale with focus',
    });
  found.push(...lensReadings(body, common));
  const [first] = infos;
  if (first) {
    const sigma = 100 * Math.sqrt(noiseAt(first.noise, 0.5));
    const iso = exif.iso ? `at ISO ${exif.iso}` : 'at an ISO that no file names';
    found.push({ ...common, what: 'noise', value: sigma, unit: '% of full scale', detail: `in the mid tones ${iso}` });
  }
  return found;
}

/** How the lens of a panorama draws and darkens, as it was found when it was composed. */
function lensReadings(
  { facts }: MergeBody,
  common: Pick<CalibrationReading, 'camera' | 'lens' | 'job' | 'at'>,
): CalibrationReading[] {
  if (facts.kind !== 'panorama' || !facts.composed) return [];
  const [v2, v4] = facts.composed.vignetting;
  const [k1, k2] = facts.composed.distortion;
  return [
    {
      ...common,
      what: 'vignetting',
      value: 100 * (v2 + v4),
      unit: '% of light in the corner',
      detail: 'fall of light',
    },
    {
      ...common,
      what: 'distortion',
      value: 100 * (k1 + k2),
      unit: '% at the corner',
      detail: 'shift of the corner outwards',
    },
  ];
}
