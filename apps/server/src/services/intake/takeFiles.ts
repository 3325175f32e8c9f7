// Files into a job: uploads and folders, each file its own piece of work that fails alone.
import { mkdir, rm, stat } from 'node:fs/promises';
import { resolve } from 'node:path';
import { InputError } from '../../codecs';
import { isFull } from '../../shared/noRoom';
import { RequestError } from '../../shared/requestError';
import { moveDurably, pictureInfo, writeDurably, type PictureRow } from '../../storage';
import { newId, type Services } from '../context';
import { requireJob } from '../jobsService';
import { pictureAt, picturesIn } from './folders';

const BY_NAME = new Intl.Collator('en', { numeric: true });
const MOST_FRAMES = 255;

interface NewFile {
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly sizeBytes: number;
  readonly role: 'frame' | 'merge';
}

/** Takes a completely received upload: on the disk and in place, then recorded; only then is it acknowledged. */
export async function takeUpload(
  services: Services,
  jobId: string,
  upload: { temporaryPath: string; name: string; sizeBytes: number; role: 'frame' | 'merge' },
): Promise<string> {
  requireJob(services.storage, jobId);
  const id = newId();
  const path = services.storage.folder.original(id);
  await moveDurably(upload.temporaryPath, path);
  try {
    record(services, jobId, [{ id, name: upload.name, path, sizeBytes: upload.sizeBytes, role: upload.role }]);
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  return id;
}

/**
 * Takes a folder on the server's machine: pictures are read where they lie, in order by name.
 * @param merge name of the file in the folder (or its path) that is the merge made elsewhere
 * @param roots folders below which both must lie; null for a folder of our own
 */
export async function takeFolder(
  services: Services,
  jobId: string,
  folder: string,
  merge: string | undefined,
  roots: readonly string[] | null,
): Promise<number> {
  requireJob(services.storage, jobId);
  const found = await picturesIn(folder, roots);
  const elsewhere = merge === undefined ? null : await pictureAt(resolve(folder, merge), roots);
  const frames = found.filter((f) => f.path !== elsewhere?.path && resolve(folder, f.name) !== elsewhere?.path);
  if (frames.length === 0)
    throw new InputError(folder, 'there is no frame in it beside the merge', 'a folder that holds the frames');
  const files = [
    ...frames.map((f): NewFile => ({ ...f, id: newId(), role: 'frame' })),
    ...(elsewhere ? [{ ...elsewhere, id: newId(), role: 'merge' as const }] : []),
  ];
  record(services, jobId, files);
  return files.length;
}

/** Files that lie on this machine become a job's frames, in the order given. */
export function recordFrames(
  services: Services,
  jobId: string,
  files: readonly { readonly id?: string; readonly name: string; readonly path: string; readonly sizeBytes: number }[],
): void {
  record(
    services,
    jobId,
    files.map((f) => ({ ...f, id: f.id ?? newId(), role: 'frame' as const })),
    false,
  );
}

function record({ storage, events }: Services, jobId: string, files: readonly NewFile[], byName = true): void {
  storage.transaction(() => {
    for (const file of files) {
      storage.pictures.insert({
        id: file.id,
        job_id: jobId,
        role: file.role,
        position: 0,
        file_name: file.name,
        source_path: file.path,
        size_bytes: file.sizeBytes,
        status: 'waiting',
        error: null,
        info: null,
      });
      storage.work.insert(newId(), jobId, 'intake', { pictureId: file.id });
    }
    // Shooting order is order by name until someone says otherwise.
    const frames = storage.pictures.listByJob(jobId).filter((p) => p.role === 'frame');
    if (frames.length > MOST_FRAMES)
      throw new RequestError(409, `A job takes up to ${MOST_FRAMES} frames; this one would have ${frames.length}.`);
    const ordered = byName ? [...frames].sort((a, b) => BY_NAME.compare(a.file_name, b.file_name)) : frames;
    ordered.forEach((p, i) => storage.pictures.setPosition(p.id, i));
  });
  events.publish({ topic: 'job', id: jobId });
}

/** Takes a picture out of a job. */
export function dropPicture({ storage, events, merges }: Services, jobId: string, pictureId: string): void {
  const row = storage.pictures.find(pictureId);
  if (!row || row.job_id !== jobId) throw new RequestError(404, `There is no picture ${pictureId} in this job.`);
  merges.forget();
  storage.discard([pictureId], () => storage.pictures.remove(pictureId));
  events.publish({ topic: 'job', id: jobId });
}

/**
 * Work `intake`: decodes one picture into its tile file.
 * @throws NoRoomError when the disk cannot hold it: the picture waits, it has not failed
 */
export async function runIntake(services: Services, pictureId: string, signal: AbortSignal): Promise<void> {
  const { storage, pool, events } = services;
  const row = storage.pictures.find(pictureId);
  if (!row || pictureInfo(row)) return;
  const { folder } = storage;
  const scratch = folder.scratchFile('.tiles');
  try {
    if (await takeApart(services, row, signal)) return;
    const info = await pool.run('store', { path: row.source_path, name: row.file_name, out: scratch }, signal);
    if (info.icc) await writeDurably(folder.icc(pictureId), info.icc, folder.scratchFile('.icc'));
    await moveDurably(scratch, folder.tiles(pictureId));
    storage.pictures.markReady(pictureId, {
      width: info.width,
      height: info.height,
      bits: info.bits,
      profile: info.profileName,
      exif: info.exif,
      noise: [...info.noise],
    });
    // Taken out of the job meanwhile: nobody will ask for its tiles.
    if (!storage.pictures.find(pictureId)) storage.discard([pictureId], () => undefined);
  } catch (error) {
    if (signal.aborted || isFull(error)) throw error;
    const text = failureWords(services, row, error);
    storage.pictures.markFailed(pictureId, text);
    throw new Error(text, { cause: error });
  } finally {
    await rm(scratch, { force: true });
    events.publish({ topic: 'job', id: row.job_id });
  }
}

/** A file that holds several pictures gives way to them: each becomes a picture of its own, in one step. */
async function takeApart(services: Services, row: PictureRow, signal: AbortSignal): Promise<boolean> {
  const { storage } = services;
  const files = await takePartsOut(services, row.source_path, row.file_name, signal);
  if (!files) return false;
  storage.discard([row.id], () => {
    storage.pictures.remove(row.id);
    record(services, row.job_id, files);
    storage.keep(files.map((f) => f.id));
  });
  return true;
}

/**
 * Takes the pictures out of a file that holds several, each into an original of its own; the caller keeps them with their rows.
 * @returns null for a file that holds one picture
 * @throws InputError for a layered file that cannot be read
 */
export async function takePartsOut(
  { storage, pool }: Services,
  path: string,
  name: string,
  signal: AbortSignal,
): Promise<readonly NewFile[] | null> {
  const folder = storage.folder.scratchFile('-parts');
  await mkdir(folder);
  try {
    const parts = await pool.run('expand', { path, name, folder }, signal);
    if (!parts) return null;
    const files: NewFile[] = [];
    const ids = parts.map(newId);
    storage.expect(ids);
    for (const [k, part] of parts.entries()) {
      const id = ids[k]!;
      const original = storage.folder.original(id);
      await moveDurably(part.path, original);
      files.push({ id, name: part.name, path: original, sizeBytes: (await stat(original)).size, role: part.role });
    }
    return files;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Why a file could not be read, in words for people; what nobody foresaw goes to the log. */
function failureWords({ log }: Services, row: PictureRow, error: unknown): string {
  if (error instanceof InputError) return error.message;
  log.error({ err: error, file: row.file_name }, 'reading a picture failed');
  const unforeseen = 'it could not be read, for a reason that is not foreseen (it stands in the log)';
  return new InputError(row.file_name, unforeseen, 'pictures that other programs open without complaint').message;
}
