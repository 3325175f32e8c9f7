// The kit list, and what frames tell about it: a test frame's settings and light, a sequence's focus step.
import { rmSync } from 'node:fs';
import type { Kit, MeasuredStep, TestFrame } from '@blendrak/contract';
import { calibrateFromDistances, calibrateStep, type StepCalibration } from '@blendrak/core/plan';
import { inspectPicture, readExif } from '../../codecs';
import { RequestError } from '../../shared/requestError';
import { pictureInfo } from '../../storage';
import type { Services } from '../context';
import { requireJob } from '../jobsService';
import { startingKit } from './startingKit';

export function openKit({ storage }: Services): Kit {
  return storage.kit.get() ?? startingKit();
}

export function changeKit({ storage }: Services, kit: Kit): Kit {
  storage.kit.put(kit);
  return kit;
}

/** Long side of the sensor to which equivalent focal lengths refer. */
const FULL_DIAGONAL_MM = Math.hypot(36, 24);

/**
 * Reads a test frame; the file is not kept.
 * @throws InputError when it is no picture
 */
export async function readTestFrame(
  { quick }: Services,
  file: { readonly path: string; readonly name: string },
): Promise<TestFrame> {
  try {
    const info = await inspectPicture(file.path, file.name);
    const exif = await readExif(file.path);
    const light = await quick.run('testLight', { path: file.path, exif });
    const equivalent = exif?.focalLength35Mm ?? null;
    const focal = exif?.focalLengthMm ?? null;
    const diagonal = equivalent && focal ? (FULL_DIAGONAL_MM * focal) / equivalent : null;
    const across = Math.max(info.width, info.height) / Math.hypot(info.width, info.height);
    return {
      fileName: file.name,
      width: info.width,
      height: info.height,
      exif,
      sensorWidthMm: diagonal === null ? null : diagonal * across,
      light,
    };
  } finally {
    rmSync(file.path, { force: true });
  }
}

/**
 * Measures the focus step of a job's sequence: from the distances that its files name, else from the change of scale that
 * alignment found, counted from the first frame's distance.
 * @param firstFocusMm for files that name no distance
 * @throws RequestError when the job cannot tell
 */
export function measureStep(
  { storage, merges }: Services,
  jobId: string,
  cocMm: number,
  firstFocusMm: number | null,
): MeasuredStep {
  requireJob(storage, jobId);
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
  const exifs = frames.map((p) => pictureInfo(p)?.exif ?? null);
  const focal = exifs.find((e) => e?.focalLengthMm)?.focalLengthMm;
  const fNumber = exifs.find((e) => e?.fNumber)?.fNumber;
  if (!focal || !fNumber)
    throw new RequestError(409, 'The frames name no focal length or aperture: choose files that keep their settings.');
  if (frames.length < 2) throw new RequestError(409, 'One frame has no step: a sequence of at least 2 is needed.');
  const optics = { focalLengthMm: focal, fNumber, cocMm };
  const distances = exifs.map((e) => e?.focusDistanceM ?? null);
  if (distances.every((d) => d !== null))
    return record(
      'distances in the files',
      calibrateFromDistances(
        distances.map((d) => d * 1000),
        optics,
      ),
    );
  const merge = storage.merges.headOf(jobId);
  if (!merge)
    throw new RequestError(409, 'The files name no focus distances: align the frames of this job first, then measure.');
  const first = firstFocusMm ?? (distances[0] ? distances[0] * 1000 : null);
  if (first === null || !(first > focal))
    throw new RequestError(
      409,
      `first focus: ${first ?? 'not given'}. A distance of more than ${focal} mm is needed, since the files name none.`,
    );
  const placed = new Map(merges.body(merge.id).frames.map((f) => [f.pictureId, f.scale]));
  // Frame to merge enlarges by `scale`: the frame itself shows things smaller by it.
  const scales = frames.map((p) => 1 / (placed.get(p.id) ?? 1));
  return record('change of scale', calibrateStep(scales, optics, first));
}

function record(source: MeasuredStep['source'], c: StepCalibration): MeasuredStep {
  const sure = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    source,
    frames: c.focusMm.length,
    stepDioptres: c.stepDioptres,
    errorDioptres: sure(c.errorDioptres),
    fraction: c.fraction,
    fractionError: sure(c.fractionError),
  };
}
