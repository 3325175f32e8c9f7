// Work `process`: align, merge (or register the merge made elsewhere), inspect.
import { writeFileSync } from 'node:fs';
import type { Finding, MergeFrame } from '@blendrak/contract';
import { centreShift, rotationDegOf, scaleOf } from '@blendrak/core/image';
import { pictureInfo, type MergeBody } from '../storage';
import { InputError } from '../codecs';
import { newId, type Services } from './context';
import { RequestError } from '../shared/requestError';
import { adviceFor } from './advice';
import { requireJob } from './jobsService';
import {
  alignFrames,
  coverageOf,
  finiteMeasurements,
  inspectMerge,
  mergeStack,
  registerMerge,
  type InspectedFinding,
  type Inspection,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from './pipeline';

/** Queues the processing of a job. */
export function startProcess({ storage, events }: Services, jobId: string, reference: string): void {
  const { kind } = requireJob(storage, jobId);
  if (kind !== 'focus-stack') {
    throw new RequestError(
      409,
      `A ${kind} can be kept and looked at, but not yet aligned or inspected: a focus stack can.`,
    );
  }
  if (storage.work.countActive(jobId, 'process') > 0)
    throw new RequestError(409, 'This job is being processed already.');
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
  if (frames.length < 2) {
    throw new RequestError(
      409,
      `A focus stack needs at least 2 frames; this job has ${frames.length}. Add frames first.`,
    );
  }
  storage.work.insert(newId(), jobId, 'process', { reference });
  events.publish({ jobId });
}

export async function runProcess(
  services: Services,
  jobId: string,
  reference: string,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const rows = storage.pictures.listByJob(jobId).filter((p) => p.status === 'ready');
  const frameRows = rows.filter((p) => p.role === 'frame');
  const mergeRow = rows.filter((p) => p.role === 'merge').at(-1);
  const pictures = frameRows.map((row) => toSetPicture(services, row.id));
  const context = (from: number, to: number): StepContext => ({
    run: pool.run,
    parallel: pool.threads,
    signal,
    onProgress: (share, message) => onProgress(from + (to - from) * share, message),
  });
  const wanted = reference === 'auto' ? 'auto' : frameRows.findIndex((p) => p.id === reference);
  const set = await alignFrames(pictures, wanted === -1 ? 'auto' : wanted, context(0, 0.3));
  const id = newId();
  const made = mergeRow
    ? await importedMerge(services, mergeRow.id, set, context(0.3, 0.45))
    : await ownMerge(services, id, set, context(0.3, 0.65));
  const inspection = await inspectMerge(
    made.picture,
    made.picture.width,
    made.picture.height,
    made.frames,
    context(mergeRow ? 0.45 : 0.65, 1),
  );
  const body = makeBody(
    made,
    set.reference,
    inspection,
    frameRows.map((r) => r.id),
  );
  writeFileSync(labelsPath(services, id), Buffer.concat([inspection.maps.closest, inspection.maps.label]));
  storage.transaction(() => {
    storage.merges.insert({
      id,
      job_id: jobId,
      origin: mergeRow ? 'imported' : 'own',
      picture_id: mergeRow?.id ?? null,
      body: JSON.stringify(body),
      revision: 0,
      created_at: new Date().toISOString(),
    });
    inspection.findings.forEach((f, i) => storage.findings.insert(toFinding(f, id), i));
  });
}

interface MadeMerge {
  readonly picture: SetPicture;
  readonly frames: readonly PlacedFrame[];
  readonly tilesId: string;
}

async function importedMerge(
  services: Services,
  pictureId: string,
  set: Awaited<ReturnType<typeof alignFrames>>,
  context: StepContext,
): Promise<MadeMerge> {
  const picture = toSetPicture(services, pictureId);
  return { picture, frames: await registerMerge(picture, set, context), tilesId: pictureId };
}

async function ownMerge(
  { storage, pool }: Services,
  id: string,
  set: Awaited<ReturnType<typeof alignFrames>>,
  context: StepContext,
): Promise<MadeMerge> {
  const { width, height } = set.frames[set.reference]!;
  const tiles = storage.folder.tiles(id);
  await mergeStack(set.frames, width, height, tiles, context);
  const noise = await pool.run('noise', { tiles }, context.signal);
  return {
    picture: { name: 'merge.tif', tiles, noise, width, height, bits: 16, exif: null },
    frames: set.frames,
    tilesId: id,
  };
}

function toSetPicture({ storage }: Services, id: string): SetPicture {
  const row = storage.pictures.find(id);
  const info = row ? pictureInfo(row) : null;
  if (!row || !info)
    throw new InputError(
      row?.file_name ?? id,
      'the picture has not been read',
      'pictures that were read without error',
    );
  const { width, height, bits, noise, exif } = info;
  return { name: row.file_name, tiles: storage.folder.tiles(id), width, height, bits, noise, exif };
}

function makeBody(made: MadeMerge, reference: number, inspection: Inspection, ids: readonly string[]): MergeBody {
  const { picture, frames } = made;
  const { curvature, ...calibration } = inspection.calibration;
  return {
    fileName: picture.name,
    width: picture.width,
    height: picture.height,
    bits: picture.bits,
    reference,
    noise: [...picture.noise],
    axis: { positions: [...inspection.axis.positions], source: inspection.axis.source },
    calibration: { ...calibration, curvature: Number.isFinite(curvature) ? curvature : null },
    tilesId: made.tilesId,
    frames: frames.map((f, k): MergeFrame => ({
      pictureId: ids[k]!,
      fileName: f.name,
      toMerge: f.toMerge,
      tone: [[...f.tone[0]], [...f.tone[1]], [...f.tone[2]]],
      scale: scaleOf(f.toMerge),
      shiftPx: centreShift(f.toMerge, f.width, f.height),
      rotationDeg: rotationDegOf(f.toMerge),
      residualPx: f.residualPx,
      correlation: f.correlation,
      coverage: coverageOf(f, picture.width, picture.height),
      share: inspection.shares[k]!,
      focusPosition: inspection.axis.positions[k]!,
    })),
  };
}

function toFinding(found: InspectedFinding, mergeId: string): Finding {
  const { detection, traced } = found;
  return {
    id: newId(),
    mergeId,
    defect: detection.defect,
    bbox: detection.bbox,
    polygon: detection.polygon.map(([x, y]) => [x, y]),
    severity: traced.severity,
    confidence: detection.confidence,
    cause: traced.cause,
    advice: adviceFor(detection.defect, traced.repairable),
    measurements: finiteMeasurements(found),
    frames: [...traced.frames],
    donor: traced.donor,
    gain: traced.gain,
    repairable: traced.repairable,
    decision: 'open',
    reason: '',
    recheck: '',
  };
}

/** Where a merge's label maps lie: closest frame per cell, then label per cell. */
export function labelsPath({ storage }: Services, mergeId: string): string {
  return storage.folder.labels(mergeId);
}
