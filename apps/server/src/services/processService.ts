// Work `process`: align, merge (or register the merge made elsewhere), inspect.
import { writeFileSync } from 'node:fs';
import {
  processSchema,
  type AlignmentSettings,
  type Finding,
  type MergeSettings,
  type ProcessInput,
  type ProcessRequest,
} from '@blendrak/contract';
import { measureBorders, type Borders } from '@blendrak/core/merge';
import { mergeBody, pictureInfo, type MergeBody } from '../storage';
import { InputError } from '../codecs';
import { newId, type Services } from './context';
import { RequestError } from '../shared/requestError';
import { adviceFor } from './advice';
import { requireJob } from './jobsService';
import { isSameAlignment, knownStack, type JobPicture } from './knownAlignment';
import { alignmentOf, makeBracket, makePanorama, mergeFrame, type MadeBody, type MergeRequest } from './makeMerge';
import {
  alignFrames,
  finiteMeasurements,
  inspectMerge,
  mergeStack,
  registerMerge,
  type AlignedSet,
  type InspectedFinding,
  type Inspection,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from './pipeline';

/** Queues the processing of a job. */
export function startProcess({ storage, events }: Services, jobId: string, request: ProcessInput = {}): void {
  const { kind } = requireJob(storage, jobId);
  if (storage.work.countActive(jobId, 'process') > 0)
    throw new RequestError(409, 'This job is being processed already.');
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
  if (frames.length < 2) {
    throw new RequestError(
      409,
      `A ${kind.replace('-', ' ')} needs at least 2 frames; this job has ${frames.length}. Add frames first.`,
    );
  }
  storage.work.insert(newId(), jobId, 'process', processSchema.parse(request));
  events.publish({ jobId });
}

export async function runProcess(
  services: Services,
  jobId: string,
  { reference, options, alignment }: ProcessRequest,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const { kind } = requireJob(storage, jobId);
  const rows = storage.pictures.listByJob(jobId).filter((p) => p.status === 'ready');
  const frameRows = rows.filter((p) => p.role === 'frame');
  const mergeRow = kind === 'focus-stack' ? rows.filter((p) => p.role === 'merge').at(-1) : undefined;
  const pictures = frameRows.map((row): JobPicture => ({ ...toSetPicture(services, row.id), id: row.id }));
  const context = (from: number, to: number): StepContext => ({
    run: pool.run,
    parallel: pool.threads,
    signal,
    onProgress: (share, message) => onProgress(from + (to - from) * share, message),
  });
  const wanted = reference === 'auto' ? 'auto' : frameRows.findIndex((p) => p.id === reference);
  const request: MergeRequest = {
    id: newId(),
    pictures,
    reference: wanted === -1 ? 'auto' : wanted,
    wantedReference: reference,
    options,
    alignment,
    last: lastAlignment(services, jobId, pictures, reference, alignment),
    context,
  };
  const made =
    kind === 'panorama'
      ? await makePanorama(services, request)
      : kind === 'bracket'
        ? await makeBracket(services, request)
        : await makeStack(services, request, mergeRow?.id ?? null);
  if (made.labels) writeFileSync(labelsPath(services, request.id), made.labels);
  storage.transaction(() => {
    storage.merges.insert({
      id: request.id,
      job_id: jobId,
      origin: mergeRow ? 'imported' : 'own',
      picture_id: mergeRow?.id ?? null,
      body: JSON.stringify(made.body),
      revision: 0,
      created_at: new Date().toISOString(),
    });
    made.findings.forEach((f, i) => storage.findings.insert(toFinding(f, request.id), i));
  });
}

/** The last merge's body, when its alignment is that of these frames. */
function lastAlignment(
  { storage }: Services,
  jobId: string,
  pictures: readonly JobPicture[],
  reference: string,
  alignment: AlignmentSettings,
): MergeBody | null {
  const row = storage.merges.latestOf(jobId);
  // A merge made elsewhere has the frames placed in its own geometry.
  if (row?.origin !== 'own') return null;
  const body = mergeBody(row);
  return isSameAlignment(body, pictures, reference, alignment) ? body : null;
}

async function makeStack(services: Services, request: MergeRequest, importedId: string | null): Promise<MadeBody> {
  const { pictures, last, context, id, options, wantedReference, alignment } = request;
  const set = last
    ? knownStack(last, pictures)
    : await alignFrames(pictures, await alignmentOf(request), context(0, 0.3));
  const made = importedId
    ? await importedMerge(services, importedId, set, context(0.3, 0.45))
    : await ownMerge(services, id, set, options, context(0.3, 0.65));
  const inspection = await inspectMerge(
    made.picture,
    made.picture.width,
    made.picture.height,
    made.frames,
    context(importedId ? 0.45 : 0.65, 1),
  );
  const { maps } = inspection;
  const borders = measureBorders({ width: maps.width, height: maps.height, labels: maps.label });
  const ids = pictures.map((p) => p.id);
  return {
    body: { ...makeBody(made, set, inspection, ids, borders), options, wantedReference, alignment },
    labels: Buffer.concat([maps.closest, maps.label]),
    findings: inspection.findings,
  };
}

interface MadeMerge {
  readonly picture: SetPicture;
  readonly frames: readonly PlacedFrame[];
  readonly tilesId: string;
}

async function importedMerge(
  services: Services,
  pictureId: string,
  set: AlignedSet,
  context: StepContext,
): Promise<MadeMerge> {
  const picture = toSetPicture(services, pictureId);
  return { picture, frames: await registerMerge(picture, set, context), tilesId: pictureId };
}

async function ownMerge(
  { storage, pool }: Services,
  id: string,
  set: AlignedSet,
  { stackMethod, gradients }: MergeSettings,
  context: StepContext,
): Promise<MadeMerge> {
  const { width, height } = set.frames[set.reference]!;
  const tiles = storage.folder.tiles(id);
  await mergeStack(set, { method: stackMethod, gradients }, tiles, context);
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

function makeBody(
  made: MadeMerge,
  { reference, model, bendPx }: AlignedSet,
  inspection: Inspection,
  ids: readonly string[],
  borders: Borders,
): Omit<MergeBody, 'options' | 'wantedReference' | 'alignment'> {
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
    cameras: null,
    facts: {
      parts: borders.parts,
      bordersPx: borders.lengthPx,
      failed: [],
      remarks: [],
      panorama: null,
      moving: null,
      model,
      bendPx,
    },
    tilesId: made.tilesId,
    frames: frames.map((f, k) => ({
      ...mergeFrame(f, ids[k]!, inspection.shares[k]!, picture.width, picture.height),
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
