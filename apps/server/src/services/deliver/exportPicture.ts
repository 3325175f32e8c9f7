// The repaired picture as a flat file: a piece of work with progress, its file kept until it is replaced.
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { isOpenWork, pictureFormatSchema, type PictureFormat, type Work } from '@blendrak/contract';
import { z } from 'zod';
import { renderFlat, type StepContext } from '../../pipeline';
import { RequestError } from '../../shared/requestError';
import { moveDurably, toWork, type WorkRow } from '../../storage';
import { newId, type Services } from '../context';
import { iccPath } from './exportService';

export const exportPayload = z.strictObject({
  mergeId: z.string(),
  format: pictureFormatSchema,
  /** Of the merge's repairs when it was asked for. */
  revision: z.number().int(),
});
type ExportOrder = z.infer<typeof exportPayload>;

/** Share of the work that rendering takes where another format is made of it. */
const RENDERING_SHARE = 0.7;

/**
 * Queues the rendering of a merge with its repairs. Who asks twice for the same waits for the same; what was rendered and not
 * repaired since is there already.
 * @throws RequestError when there is no such merge, or a frame of it has been taken out of the job
 */
export function startExport(services: Services, mergeId: string, format: PictureFormat): Work {
  const { storage, merges, events } = services;
  const { row } = merges.open(mergeId);
  const revision = storage.merges.revisionOf(mergeId)!;
  const earlier = exportsOf(services, row.job_id).filter(
    (e) => e.order.mergeId === mergeId && e.order.format === format,
  );
  const same = earlier.find(
    (e) =>
      e.order.revision === revision &&
      (e.row.status === 'done' ? existsSync(storage.folder.exported(e.row.id)) : isOpenWork(e.row)),
  );
  if (same) return toWork(same.row);
  // A file of an older state is in nobody's way, but large.
  const over = earlier.filter((e) => !isOpenWork(e.row)).map((e) => e.row.id);
  const id = newId();
  storage.discard(over, () => over.forEach((old) => storage.work.remove(old)));
  storage.work.insert(id, row.job_id, 'export', { mergeId, format, revision } satisfies ExportOrder);
  events.publish({ topic: 'job', id: row.job_id });
  return toWork(storage.work.find(id)!);
}

/** Work `export`: renders at full size. Nothing is left of it when it fails or is cancelled. */
export async function runExport(
  services: Services,
  workId: string,
  { mergeId, format }: ExportOrder,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const path = await renderPicture(services, mergeId, format, onProgress, signal);
  await moveDurably(path, services.storage.folder.exported(workId));
}

/**
 * Renders a merge with its repairs at full size.
 * @returns a file in the scratch folder, for the caller to move away
 * @throws NoRoomError when the disk cannot hold it; nothing is left then, nor after a cancel
 */
export async function renderPicture(
  { storage, merges, pool }: Services,
  mergeId: string,
  format: PictureFormat,
  onProgress: (share: number, message: string) => void = () => undefined,
  signal?: AbortSignal,
): Promise<string> {
  const { scene, body } = merges.painted(mergeId);
  const { width, height } = body;
  const icc = iccPath({ storage }, body.tilesId, body.frames[body.reference]!.pictureId);
  const tiff = storage.folder.scratchFile('.tif');
  const isTiff = format === 'tiff';
  const out = isTiff ? tiff : storage.folder.scratchFile(format === 'png' ? '.png' : '.jpg');
  const steps: StepContext = {
    run: pool.run,
    parallel: pool.threads,
    ...(signal && { signal }),
    onProgress: (share, message) => onProgress(share * (isTiff ? 1 : RENDERING_SHARE), message),
  };
  try {
    await renderFlat({ scene, width, height, icc, out: tiff }, steps);
    if (isTiff) return tiff;
    await pool.run('convertTiff', { tiff, out }, signal);
    await rm(tiff);
    return out;
  } catch (error) {
    for (const path of [tiff, out]) await rm(path, { force: true });
    throw error;
  }
}

/**
 * The file that work `export` made.
 * @throws RequestError when there is no such work, or it is not done
 */
export function exportedFile({ storage }: Services, workId: string): { path: string } & ExportOrder {
  const row = storage.work.find(workId);
  if (!row || row.kind !== 'export') throw new RequestError(404, `There is no export ${workId}.`);
  const path = storage.folder.exported(workId);
  if (row.status !== 'done' || !existsSync(path))
    throw new RequestError(
      409,
      `This export is ${row.status}${row.error ? `: ${row.error}` : ''}. Accepted: one that is done.`,
    );
  return { path, ...exportPayload.parse(JSON.parse(row.payload)) };
}

function exportsOf({ storage }: Services, jobId: string): { row: WorkRow; order: ExportOrder }[] {
  return storage.work
    .rowsOf(jobId, 'export')
    .map((row) => ({ row, order: exportPayload.parse(JSON.parse(row.payload)) }));
}
