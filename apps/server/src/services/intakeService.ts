// Files into a job: uploads and folders, each file its own piece of work that fails alone.
import { renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { mkdtemp, readdir, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { expandFile, InputError, isPictureName } from '../codecs';
import { pictureInfo, removeFiles, type PictureRow } from '../storage';
import { newId, type Services } from './context';
import { RequestError } from '../shared/requestError';
import { requireJob } from './jobsService';

const BY_NAME = new Intl.Collator('en', { numeric: true });
const MOST_FRAMES = 255;

interface NewFile {
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly sizeBytes: number;
  readonly role: 'frame' | 'merge';
}

/** Takes a completely received upload: moved into place, then recorded; only then is it acknowledged. */
export function takeUpload(
  services: Services,
  jobId: string,
  upload: { temporaryPath: string; name: string; sizeBytes: number; role: 'frame' | 'merge' },
): string {
  requireJob(services.storage, jobId);
  const id = newId();
  const path = services.storage.folder.original(id);
  renameSync(upload.temporaryPath, path);
  record(services, jobId, [{ id, name: upload.name, path, sizeBytes: upload.sizeBytes, role: upload.role }]);
  return id;
}

/**
 * Takes a folder on the server's machine: pictures are read where they lie, in order by name.
 * @param merge name of the file in the folder (or its path) that is the merge made elsewhere
 */
export async function takeFolder(services: Services, jobId: string, folder: string, merge?: string): Promise<number> {
  requireJob(services.storage, jobId);
  const names = await readdir(folder).catch(() => {
    throw new InputError(folder, 'the folder cannot be read', 'a folder on this machine that holds the frames');
  });
  const mergePath = merge ? resolve(folder, merge) : null;
  const files: NewFile[] = [];
  for (const name of names.filter(isPictureName).sort(BY_NAME.compare)) {
    const path = resolve(folder, name);
    const info = await stat(path);
    if (!info.isFile()) continue;
    files.push({ id: newId(), name, path, sizeBytes: info.size, role: path === mergePath ? 'merge' : 'frame' });
  }
  if (mergePath && !files.some((f) => f.path === mergePath)) {
    const info = await stat(mergePath).catch(() => {
      throw new InputError(merge!, 'the merge cannot be read', 'a picture file in this folder, or its full path');
    });
    files.push({ id: newId(), name: basename(mergePath), path: mergePath, sizeBytes: info.size, role: 'merge' });
  }
  if (!files.some((f) => f.role === 'frame')) {
    throw new InputError(folder, 'there are no pictures in it', 'JPEG, PNG, TIFF, WebP or AVIF files');
  }
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
      throw new RequestError(
        409,
        `A focus stack takes up to ${MOST_FRAMES} frames; this job would have ${frames.length}.`,
      );
    const ordered = byName ? [...frames].sort((a, b) => BY_NAME.compare(a.file_name, b.file_name)) : frames;
    ordered.forEach((p, i) => storage.pictures.setPosition(p.id, i));
  });
  events.publish({ jobId });
}

/** Takes a picture out of a job. */
export function dropPicture({ storage, events }: Services, jobId: string, pictureId: string): void {
  const row = storage.pictures.find(pictureId);
  if (!row || row.job_id !== jobId) throw new RequestError(404, `There is no picture ${pictureId} in this job.`);
  storage.pictures.remove(pictureId);
  removeFiles(storage.folder, pictureId);
  events.publish({ jobId });
}

/** Room that decoding one file may take: a JPEG unpacks to about ten times its size. */
function neededBytes(sizeBytes: number): number {
  return sizeBytes * 14 + 50e6;
}

/** Work `intake`: decodes one picture into its tile file. */
export async function runIntake(services: Services, pictureId: string, signal: AbortSignal): Promise<void> {
  const { storage, pool, events } = services;
  const row = storage.pictures.find(pictureId);
  if (!row || pictureInfo(row)) return;
  try {
    const free = storage.folder.freeBytes();
    if (free < neededBytes(row.size_bytes)) {
      throw new InputError(
        row.file_name,
        `the disk is nearly full (${(free / 1e9).toFixed(1)} GB free)`,
        `at least ${(neededBytes(row.size_bytes) / 1e9).toFixed(1)} GB of free space`,
      );
    }
    if (await takeApart(services, row)) return;
    const tiles = storage.folder.tiles(pictureId);
    const temporary = `${tiles}.part`;
    const info = await pool.run('store', { path: row.source_path, name: row.file_name, out: temporary }, signal);
    if (info.icc) writeFileSync(storage.folder.icc(pictureId), info.icc);
    renameSync(temporary, tiles);
    storage.pictures.markReady(pictureId, {
      width: info.width,
      height: info.height,
      bits: info.bits,
      profile: info.profileName,
      exif: info.exif,
      noise: [...info.noise],
    });
  } catch (error) {
    if (signal.aborted) throw error;
    const text = error instanceof InputError ? error.message : `${row.file_name}: ${diskWords(error)}`;
    storage.pictures.markFailed(pictureId, text);
    throw new Error(text, { cause: error });
  } finally {
    events.publish({ jobId: row.job_id });
  }
}

/** A file that holds several pictures gives way to them: each becomes a picture of its own, in one step. */
async function takeApart(services: Services, row: PictureRow): Promise<boolean> {
  const { storage } = services;
  const files = await takePartsOut(services, row.source_path, row.file_name);
  if (!files) return false;
  storage.transaction(() => {
    storage.pictures.remove(row.id);
    record(services, row.job_id, files);
  });
  removeFiles(storage.folder, row.id);
  return true;
}

/**
 * Takes the pictures out of a file that holds several, each into an original of its own.
 * @returns null for a file that holds one picture
 * @throws InputError for a layered file that cannot be read
 */
export async function takePartsOut(
  { storage }: Services,
  path: string,
  name: string,
): Promise<readonly NewFile[] | null> {
  const folder = await mkdtemp(join(storage.folder.incoming, 'parts-'));
  try {
    const parts = await expandFile(path, name, folder);
    if (!parts) return null;
    return parts.map((part): NewFile => {
      const id = newId();
      const original = storage.folder.original(id);
      renameSync(part.path, original);
      return { id, name: part.name, path: original, sizeBytes: statSync(original).size, role: part.role };
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function diskWords(error: unknown): string {
  if (error instanceof Error && 'code' in error && error.code === 'ENOSPC')
    return 'the disk is full. Accepted: free space for the tiles.';
  return error instanceof Error ? error.message : String(error);
}
