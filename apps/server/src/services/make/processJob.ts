// Work `process`: a job's frames aligned and merged (or the merge made elsewhere registered) and inspected.
import { rm } from 'node:fs/promises';
import {
  processSchema,
  type AlignmentSettings,
  type Carry,
  type FirstLook,
  type ProcessInput,
  type ProcessRequest,
} from '@blendrak/contract';
import { InputError } from '../../codecs';
import { RequestError } from '../../shared/requestError';
import { moveDurably, pictureInfo, type MergeBody } from '../../storage';
import { newId, type Services } from '../context';
import { requireJob } from '../jobsService';
import { tellKind } from './tellKind';
import { note } from '../log/journal';
import { mendAtOnce } from '../mend/mendMerge';
import { carryRepairs, lastRepairs } from '../mend/carryRepairs';
import type { OperationsService } from '../mend/operations';
import { isSameAlignment } from './knownAlignment';
import type { JobPicture } from './mergeOrder';

/** Queues the processing of a job. */
export function startProcess({ storage, events }: Services, jobId: string, request: ProcessInput = {}): void {
  const { kind, is_kind_open: isOpen } = requireJob(storage, jobId);
  if (storage.work.countActive(jobId, 'process') > 0)
    throw new RequestError(409, 'This job is being processed already: wait for it, or cancel it first.');
  const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
  if (frames.length < 2) {
    throw new RequestError(
      409,
      `A ${isOpen ? 'set' : kind.replace('-', ' ')} needs at least 2 frames; this job has ${frames.length}. Add frames first.`,
    );
  }
  storage.work.insert(newId(), jobId, 'process', processSchema.parse(request));
  events.publish({ topic: 'job', id: jobId });
}

/** What is told of processing while it goes on. */
export interface Tell {
  readonly onProgress: (share: number, message: string) => void;
  readonly onFirst: (first: FirstLook) => void;
}

export async function runProcess(
  services: Services,
  repair: OperationsService,
  jobId: string,
  { reference, options, alignment, own, mend }: ProcessRequest,
  { onProgress, onFirst }: Tell,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const { folder } = storage;
  const rows = storage.pictures.listByJob(jobId).filter((p) => p.status === 'ready');
  const pictures = rows.filter((p) => p.role === 'frame').map((row) => toJobPicture(services, row.id));
  const files = rows.filter((p) => p.role === 'frame').map((row) => ({ path: row.source_path, name: row.file_name }));
  const kind = await tellKind(services, jobId, files, onProgress, signal);
  const mergeRow = own ? undefined : rows.filter((p) => p.role === 'merge').at(-1);
  const wanted = reference === 'auto' ? 'auto' : pictures.findIndex((p) => p.id === reference);
  const id = newId();
  const began = Date.now();
  const [tiles, labels] = [folder.scratchFile('.tiles'), folder.scratchFile('.labels')];
  try {
    const made = await pool.merge(
      {
        kind,
        id,
        pictures,
        elsewhere: mergeRow ? toJobPicture(services, mergeRow.id) : null,
        reference: wanted === -1 ? 'auto' : wanted,
        wantedReference: reference,
        mergeOptions: options,
        alignment,
        last: lastAlignment(services, jobId, pictures, reference, alignment),
        tiles,
        labels,
      },
      { onProgress, onFirst: (seen) => onFirst({ pictureId: mergeRow?.id ?? null, ...seen }) },
      signal,
    );
    const last = lastRepairs(services, jobId);
    storage.expect([id]);
    if (made.labelled) await moveDurably(labels, folder.labels(id));
    if (!mergeRow) await moveDurably(tiles, folder.tiles(id));
    storage.transaction(() => {
      storage.merges.insert({
        id,
        job_id: jobId,
        origin: mergeRow ? 'imported' : 'own',
        picture_id: mergeRow?.id ?? null,
        body: made.body,
        revision: 0,
        created_at: new Date().toISOString(),
      });
      made.findings.forEach((f, i) => storage.findings.insert(f, i));
      storage.keep([id]);
      const carry =
        last && carryRepairs(storage, last, { id, body: services.merges.body(id), pictureId: mergeRow?.id ?? null });
      if (carry) storage.merges.setCarried(id, carry);
      const how = mergeRow ? `${mergeRow.file_name} was registered` : 'aligned and merged';
      const found = made.findings.length === 1 ? '1 finding' : `${made.findings.length} findings`;
      const words = `${pictures.length} frames, ${how}, inspected: ${found}.`;
      note({ storage }, jobId, 'processed', words, (Date.now() - began) / 1000);
      if (carry) note({ storage }, jobId, 'repaired', carryWords(carry));
    });
    repair.lookAgain(id);
    if (mend) mendAtOnce(services, id);
  } catch (error) {
    // What was moved into place belongs to no row.
    storage.discard([id], () => undefined);
    throw error;
  } finally {
    for (const path of [tiles, `${tiles}.part`, labels]) await rm(path, { force: true });
  }
}

function carryWords({ taken, left }: Carry): string {
  const repairs = (n: number): string => (n === 1 ? '1 repair' : `${n} repairs`);
  const missing = left.length > 0 ? `; ${repairs(left.length)} could not be` : '';
  return `${repairs(taken)} of the merge before carried over${missing}.`;
}

/** The last merge's body, when its alignment is that of these frames. */
function lastAlignment(
  { storage, merges }: Services,
  jobId: string,
  pictures: readonly JobPicture[],
  reference: string,
  alignment: AlignmentSettings,
): MergeBody | null {
  const head = storage.merges.headOf(jobId);
  // A merge made elsewhere has the frames placed in its own geometry.
  if (!head || storage.merges.find(head.id)?.origin !== 'own') return null;
  const body = merges.body(head.id);
  return isSameAlignment(body, pictures, reference, alignment) ? body : null;
}

function toJobPicture({ storage }: Services, id: string): JobPicture {
  const row = storage.pictures.find(id);
  const info = row ? pictureInfo(row) : null;
  if (!row || !info)
    throw new InputError(
      row?.file_name ?? id,
      'the picture has not been read',
      'pictures that were read without error',
    );
  const { width, height, bits, noise, exif } = info;
  return { id, name: row.file_name, tiles: storage.folder.tiles(id), width, height, bits, noise, exif };
}
