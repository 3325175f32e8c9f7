// Cards: many files of several sets, taken in, sorted, edited by hand, and made into jobs.
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readFileSync, realpathSync, renameSync, writeFileSync } from 'node:fs';
import { readdir, stat } from 'node:fs/promises';
import { join, sep } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { deserialize, serialize } from 'node:v8';
import {
  exifSchema,
  type Card,
  type CardFile,
  type CardSet,
  type CardSorting,
  type CardSummary,
  type JobSummary,
} from '@blendrak/contract';
import type { SortFrame } from '@blendrak/core/sort';
import { InputError, isPictureName, isRawName, readExif } from '../../codecs';
import type { TaskResponse } from '../../jobs/protocol';
import { RequestError } from '../../shared/requestError';
import { cardSorting, removeFiles, type CardFileRow, type CardRow } from '../../storage';
import { newId, type Services } from '../context';
import { recordFrames } from '../intakeService';
import { createJob, openJob } from '../jobsService';
import { inParallel } from '../pipeline';

const BY_NAME = new Intl.Collator('en', { numeric: true });
const MOST_FILES = 2000;

export function listCards(services: Services): CardSummary[] {
  return services.storage.cards.list().map((row) => summarise(services, row));
}

export function openCard(services: Services, id: string): Card {
  const row = requireCard(services, id);
  const files = services.storage.cards.files(id);
  return { summary: summarise(services, row), files: files.map(toFile), sorting: cardSorting(row) };
}

/**
 * Makes a card; with a folder its files are read where they lie, and sorting begins.
 * @throws InputError when the folder cannot be read or holds no pictures
 */
export async function addCard(services: Services, name: string, folder: string | null): Promise<Card> {
  const { storage } = services;
  const id = newId();
  const found = folder === null ? [] : await filesIn(folder);
  storage.transaction(() => {
    storage.cards.insert(id, name, new Date().toISOString());
    for (const file of found)
      storage.cards.addFile({
        id: newId(),
        card_id: id,
        file_name: file.name,
        source_path: file.path,
        size_bytes: file.sizeBytes,
      });
    if (found.length > 0) storage.work.insertForCard(newId(), id, 'sort', {});
  });
  services.events.publish({ cardId: id });
  return openCard(services, id);
}

interface FoundFile {
  readonly name: string;
  readonly path: string;
  readonly sizeBytes: number;
}

/** Picture and raw files of a folder; links that lead out of it are not followed. */
async function filesIn(folder: string): Promise<FoundFile[]> {
  const names = await readdir(folder).catch(() => {
    throw new InputError(folder, 'the folder cannot be read', 'a folder on this machine that holds the card’s files');
  });
  const root = realpathSync(folder);
  const found: FoundFile[] = [];
  for (const name of names.filter((n) => isPictureName(n) || isRawName(n)).sort(BY_NAME.compare)) {
    const path = join(folder, name);
    const info = await stat(path).catch(() => null);
    if (!info?.isFile()) continue;
    if (!realpathSync(path).startsWith(root + sep))
      throw new InputError(name, 'this link leads out of the folder', 'files that lie in the folder itself');
    found.push({ name, path, sizeBytes: info.size });
  }
  if (found.length === 0)
    throw new InputError(folder, 'there are no pictures in it', 'JPEG, PNG, TIFF, WebP or AVIF files');
  if (found.length > MOST_FILES)
    throw new InputError(folder, `it holds ${found.length} pictures`, `up to ${MOST_FILES} at a time`);
  return found;
}

/** Takes a completely received upload; it is sorted when asked for. */
export function takeCardFile(
  { storage, events }: Services,
  cardId: string,
  upload: { readonly temporaryPath: string; readonly name: string; readonly sizeBytes: number },
): string {
  if (!storage.cards.find(cardId)) throw new RequestError(404, `There is no card ${cardId}.`);
  const id = newId();
  const path = storage.folder.original(id);
  renameSync(upload.temporaryPath, path);
  storage.cards.addFile({
    id,
    card_id: cardId,
    file_name: upload.name,
    source_path: path,
    size_bytes: upload.sizeBytes,
  });
  events.publish({ cardId });
  return id;
}

/** Queues sorting; what was sorted by hand before is proposed anew. */
export function startSort(services: Services, cardId: string): Card {
  const { storage, events } = services;
  requireCard(services, cardId);
  if (storage.cards.files(cardId).length === 0)
    throw new RequestError(409, 'There is nothing to sort yet: drop files first.');
  const active = storage.work.listByCard(cardId).some((w) => w.status === 'queued' || w.status === 'running');
  if (!active) storage.work.insertForCard(newId(), cardId, 'sort', {});
  events.publish({ cardId });
  return openCard(services, cardId);
}

export function removeCard(services: Services, id: string): void {
  requireCard(services, id);
  const files = services.storage.cards.files(id);
  services.storage.cards.remove(id);
  for (const file of files) removeFiles(services.storage.folder, file.id);
  services.events.publish({ cardId: id });
}

/** Work `sort`: looks at each file (what was looked at before a kill is kept), then groups them. */
export async function runSort(
  services: Services,
  cardId: string,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const rows = storage.cards.files(cardId);
  let done = 0;
  await inParallel(rows, pool.threads, async (row) => {
    if (signal.aborted) throw new Error('cancelled');
    await lookAtFile(services, row, signal);
    onProgress((0.9 * ++done) / rows.length, `looked at ${done} of ${rows.length} files`);
  });
  dropDoubles(services, cardId);
  const ready = storage.cards
    .files(cardId)
    .filter((f) => f.digest !== null)
    .sort((a, b) => BY_NAME.compare(a.file_name, b.file_name));
  const frames = ready.map((f) => deserialize(readFileSync(storage.folder.look(f.id))) as SortFrame);
  const grouped = await pool.run('group', { frames }, signal);
  const failed = storage.cards.files(cardId).filter((f) => f.digest === null);
  storage.cards.setSorting(cardId, keepSorting(grouped, ready, failed));
  onProgress(1, `${grouped.sorting.sets.length} sets found`);
}

async function lookAtFile({ storage, pool }: Services, row: CardFileRow, signal: AbortSignal): Promise<void> {
  const { folder, cards } = storage;
  if (row.digest !== null && existsSync(folder.look(row.id))) return;
  try {
    const thumb = folder.thumb(row.id);
    const look = await pool.run('look', { path: row.source_path, name: row.file_name, thumb }, signal);
    writeFileSync(`${folder.look(row.id)}.part`, serialize(look));
    renameSync(`${folder.look(row.id)}.part`, folder.look(row.id));
    cards.setLooked(row.id, await digestOf(row.source_path), await readExif(row.source_path));
  } catch (error) {
    if (signal.aborted) throw error;
    cards.setFailed(row.id, error instanceof Error ? error.message : String(error));
  }
}

async function digestOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

/** The same file dropped twice is kept once. */
function dropDoubles({ storage }: Services, cardId: string): void {
  const seen = new Set<string>();
  for (const file of storage.cards.files(cardId)) {
    if (file.digest === null) continue;
    if (seen.has(file.digest)) {
      storage.cards.dropFile(file.id);
      removeFiles(storage.folder, file.id);
    }
    seen.add(file.digest);
  }
}

function keepSorting(
  { sorting, checks, labels }: TaskResponse<'group'>,
  files: readonly CardFileRow[],
  failed: readonly CardFileRow[],
): CardSorting {
  const ids = (indices: readonly number[]): string[] => indices.map((k) => files[k]!.id);
  const setIds = sorting.sets.map(() => newId());
  return {
    sets: sorting.sets.map((set, k) => ({
      id: setIds[k]!,
      kind: set.kind,
      files: ids(set.frames),
      labels: Object.fromEntries(set.frames.flatMap((f, i) => (labels[k]![i] ? [[files[f]!.id, labels[k]![i]]] : []))),
      leftOut: [],
      why: set.why,
      confidence: Number(set.confidence.toFixed(2)),
      nested: set.nested.map((n) => setIds[n]!),
      checks: checks[k]!.map(({ frame, ...check }) => ({ file: files[frame]!.id, ...check })),
      jobId: null,
    })),
    separators: ids(sorting.separators),
    unassigned: [...ids(sorting.unassigned), ...failed.map((f) => f.id)],
  };
}

/**
 * Keeps a sorting that was edited by hand.
 * @throws RequestError when files are missing from it, twice in it, or not of this card: nothing may get lost by an edit
 */
export function changeSorting(services: Services, cardId: string, sorting: CardSorting): Card {
  requireCard(services, cardId);
  const nested = new Set(sorting.sets.flatMap((s) => s.nested));
  // Frames of inner sets stand in the outer set, too.
  const placed = [
    ...sorting.sets.filter((s) => !nested.has(s.id)).flatMap((s) => s.files),
    ...sorting.separators,
    ...sorting.unassigned,
  ];
  const known = new Set(services.storage.cards.files(cardId).map((f) => f.id));
  const strange = placed.find((id) => !known.has(id));
  if (strange !== undefined) throw new RequestError(400, `sorting: there is no file ${strange} on this card.`);
  if (new Set(placed).size !== placed.length || placed.length !== known.size)
    throw new RequestError(
      400,
      `sorting: each of the ${known.size} files must stand in one place; ${placed.length} places are given.`,
    );
  const before = cardSorting(requireCard(services, cardId));
  services.storage.cards.setSorting(cardId, sorting);
  services.events.publish({ cardId });
  void checkChanged(services, cardId, before, sorting);
  return openCard(services, cardId);
}

/** Checks sets anew whose frames or kind were changed; what was said of them before does not hold. */
async function checkChanged(
  services: Services,
  cardId: string,
  before: CardSorting | null,
  after: CardSorting,
): Promise<void> {
  const { storage, quick, log } = services;
  const keyOf = (set: CardSet): string => `${set.kind} ${set.files.join()}`;
  const known = new Set(before?.sets.map(keyOf));
  for (const set of after.sets.filter((s) => s.nested.length === 0 && !known.has(keyOf(s)))) {
    const ids = set.files.filter((id) => existsSync(storage.folder.look(id)));
    try {
      const frames = ids.map((id) => deserialize(readFileSync(storage.folder.look(id))) as SortFrame);
      const checks = await quick.run('checkSet', { frames, kind: set.kind });
      const row = storage.cards.find(cardId);
      const now = row && cardSorting(row);
      // Edits go on meanwhile: only a set that still is what was checked gets the answer.
      if (!now?.sets.some((s) => s.id === set.id && keyOf(s) === keyOf(set))) continue;
      const named = checks.map(({ frame, ...check }) => ({ file: ids[frame]!, ...check }));
      storage.cards.setSorting(cardId, {
        ...now,
        sets: now.sets.map((s) => (s.id === set.id ? { ...s, checks: named } : s)),
      });
      services.events.publish({ cardId });
    } catch (error) {
      log.error({ error, cardId, set: set.id }, 'checking a changed set failed');
    }
  }
}

/** Makes a job of a set: its frames, in order, without those left out. Files are read where they lie. */
export function makeJobOfSet(services: Services, cardId: string, setId: string): JobSummary {
  const { storage } = services;
  const row = requireCard(services, cardId);
  const sorting = cardSorting(row);
  const set = sorting?.sets.find((s) => s.id === setId);
  if (!sorting || !set) throw new RequestError(404, `There is no set ${setId} on this card.`);
  const files = new Map(storage.cards.files(cardId).map((f) => [f.id, f]));
  const frames = set.files.filter((id) => !set.leftOut.includes(id)).map((id) => files.get(id)!);
  if (frames.length === 0) throw new RequestError(409, 'All frames of this set are left out.');
  const first = frames[0]!.file_name;
  return storage.transaction(() => {
    const job = createJob(
      services,
      `${row.name}: ${first}${frames.length > 1 ? ` to ${frames.at(-1)!.file_name}` : ''}`,
      set.kind,
    );
    recordFrames(
      services,
      job.id,
      frames.map((f) => ({ name: f.file_name, path: f.source_path, sizeBytes: f.size_bytes })),
    );
    const sets = sorting.sets.map((s) => (s.id === setId ? { ...s, jobId: job.id } : s));
    storage.cards.setSorting(cardId, { ...sorting, sets });
    services.events.publish({ cardId });
    return openJob(services, job.id).summary;
  });
}

/** Path of a file's thumbnail. */
export function thumbOf({ storage }: Services, fileId: string): string {
  const path = storage.folder.thumb(fileId);
  if (!storage.cards.findFile(fileId) || !existsSync(path))
    throw new RequestError(404, `There is no thumbnail of ${fileId}.`);
  return path;
}

function requireCard({ storage }: Services, id: string): CardRow {
  const row = storage.cards.find(id);
  if (!row) throw new RequestError(404, `There is no card ${id}.`);
  return row;
}

function summarise({ storage }: Services, row: CardRow): CardSummary {
  const work = storage.work.listByCard(row.id).at(-1);
  return {
    id: row.id,
    name: row.name,
    createdAt: row.created_at,
    files: storage.cards.files(row.id).length,
    sets: cardSorting(row)?.sets.length ?? 0,
    work: work && work.status !== 'done' ? work : null,
  };
}

function toFile(row: CardFileRow): CardFile {
  return {
    id: row.id,
    fileName: row.file_name,
    sizeBytes: row.size_bytes,
    looked: row.digest !== null,
    error: row.error,
    exif: row.exif === null ? null : exifSchema.parse(JSON.parse(row.exif)),
  };
}
