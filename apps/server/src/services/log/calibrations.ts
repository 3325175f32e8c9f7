// What the jobs tell about bodies and lenses, and taking it over into the kit.
import type { Calibration, CalibrationName, Kit } from '@blendrak/contract';
import { noiseAt } from '@blendrak/core/image';
import { sensorSpots } from '@blendrak/core/inspect';
import { breathingPerDioptre, gatherCalibrations, type CalibrationReading } from '@blendrak/core/learn';
import { z } from 'zod';
import { RequestError } from '../../shared/requestError';
import { pictureInfo, type MergeBody } from '../../storage';
import type { Services } from '../context';
import { changeKit, openKit } from '../plan';

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
  const { measured } = openKit(services);
  return gatherCalibrations(readings).map(({ detail, place, jobs, ...rest }) => {
    const words = place ? `${detail} at ${place.map(Math.round).join(', ')} px` : detail;
    const isTaken = measured.some((m) => isOf(m, { ...rest, words }) && m.value === rest.value);
    return { ...rest, words, jobs: jobs.map((job) => ({ ...job })), isTaken };
  });
}

/**
 * Takes what the jobs tell now over into the kit, in place of what was taken before.
 * @throws RequestError when no job tells it any more
 */
export function takeCalibration(services: Services, name: CalibrationName): Kit {
  const found = calibrationsOf(services).find((c) => isOf(c, name));
  if (!found || found.value === null)
    throw new RequestError(
      404,
      `No job tells ${name.what} (${name.words}) of ${name.camera} with ${name.lens} (any more).`,
    );
  const kit = openKit(services);
  const { camera, lens, what, words, value, unit, spread, jobs } = found;
  const fact = { camera, lens, what, words, value, unit, spread, jobs: jobs.length, takenAt: new Date().toISOString() };
  return changeKit(services, { ...kit, measured: [...kit.measured.filter((m) => !isOf(m, name)), fact] });
}

function isOf(a: CalibrationName, b: CalibrationName): boolean {
  return a.camera === b.camera && a.lens === b.lens && a.what === b.what && a.words === b.words;
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
  found.push(...lensReadings(body, common), ...dustReadings(body, common));
  const [first] = infos;
  if (first) {
    const sigma = 100 * Math.sqrt(noiseAt(first.noise, 0.5));
    const iso = exif.iso ? `at ISO ${exif.iso}` : 'at an ISO that no file names';
    found.push({ ...common, what: 'noise', value: sigma, unit: '% of full scale', detail: `in the mid tones ${iso}` });
  }
  return found;
}

/** What surveys keep of a speck; merges inspected before their places on the sensor were kept have none. */
const speckSchema = z.array(z.object({ sensor: z.tuple([z.number(), z.number()]), depth: z.number() }));

/** Specks on the sensor: they stay there whatever lens is before it. */
function dustReadings(
  { inspection }: MergeBody,
  { camera, job, at }: Pick<CalibrationReading, 'camera' | 'job' | 'at'>,
): CalibrationReading[] {
  const specks = speckSchema.safeParse(inspection?.surveys[sensorSpots.name]);
  if (!specks.success) return [];
  return specks.data.map(({ sensor, depth }) => ({
    ...{ camera, job, at, lens: 'any lens', what: 'dust', value: 100 * depth, unit: '% of light taken' },
    detail: 'a speck on the sensor',
    place: sensor,
  }));
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
