// Cards: many files of several sets, taken in and listed.
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { exifSchema, type Card, type CardFile, type CardSummary } from '@blendrak/contract';
import { InputError, isPictureName, isRawName } from '../../codecs';
import { RequestError } from '../../shared/requestError';
import { cardSorting, moveDurably, type CardFileRow, type CardRow } from '../../storage';
import { newId, type Services } from '../context';
import { picturesIn, type FoundFile } from '../intake/folders';

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
  const found = folder === null ? [] : await filesIn(folder, services.roots);
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
  services.events.publish({ topic: 'card', id });
  return openCard(services, id);
}

/** Picture and raw files of a folder. */
async function filesIn(folder: string, roots: readonly string[]): Promise<FoundFile[]> {
  const found = await picturesIn(folder, roots, (name) => isPictureName(name) || isRawName(name));
  if (found.length > MOST_FILES)
    throw new InputError(folder, `it holds ${found.length} pictures`, `up to ${MOST_FILES} at a time`);
  return found;
}

/** Takes a completely received upload; it is sorted when asked for. */
export async function takeCardFile(
  { storage, events }: Services,
  cardId: string,
  upload: { readonly temporaryPath: string; readonly name: string; readonly sizeBytes: number },
): Promise<string> {
  if (!storage.cards.find(cardId)) throw new RequestError(404, `There is no card ${cardId}.`);
  const id = newId();
  const path = storage.folder.original(id);
  await moveDurably(upload.temporaryPath, path);
  try {
    storage.cards.addFile({
      id,
      card_id: cardId,
      file_name: upload.name,
      source_path: path,
      size_bytes: upload.sizeBytes,
    });
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  events.publish({ topic: 'card', id: cardId });
  return id;
}

/** Queues sorting; what was sorted by hand before is proposed anew. */
export function startSort(services: Services, cardId: string): Card {
  const { storage, events } = services;
  requireCard(services, cardId);
  if (storage.cards.files(cardId).length === 0)
    throw new RequestError(409, 'There is nothing to sort yet: drop files first.');
  const active = storage.work.listByCard(cardId).some((w) => ['queued', 'running', 'paused'].includes(w.status));
  if (!active) storage.work.insertForCard(newId(), cardId, 'sort', {});
  events.publish({ topic: 'card', id: cardId });
  return openCard(services, cardId);
}

export function removeCard(services: Services, id: string): void {
  requireCard(services, id);
  const files = services.storage.cards.files(id);
  services.storage.discard(
    files.map((f) => f.id),
    () => services.storage.cards.remove(id),
  );
  services.events.publish({ topic: 'card', id });
}

/** Path of a file's thumbnail. */
export function thumbOf({ storage }: Services, fileId: string): string {
  const path = storage.folder.thumb(fileId);
  if (!storage.cards.findFile(fileId) || !existsSync(path))
    throw new RequestError(404, `There is no thumbnail of ${fileId}.`);
  return path;
}

/** @throws RequestError when there is no such card */
export function requireCard({ storage }: Services, id: string): CardRow {
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
