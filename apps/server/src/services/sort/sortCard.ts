// Work `sort`: a card's files looked at and grouped into sets.
import { existsSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { CardSorting } from '@blendrak/contract';
import { InputError } from '../../codecs';
import type { TaskResponse } from '../../jobs';
import { inParallel } from '../../pipeline';
import { isFull } from '../../shared/noRoom';
import { moveDurably, type CardFileRow } from '../../storage';
import { newId, type Services } from '../context';
import { takePartsOut } from '../intake/takeFiles';

const BY_NAME = new Intl.Collator('en', { numeric: true });

/** Work `sort`: looks at each file (what was looked at before a kill is kept), then groups them. */
export async function runSort(
  services: Services,
  cardId: string,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const spoilt = await takeAllApart(services, cardId, signal);
  const rows = storage.cards.files(cardId).filter((f) => !spoilt.has(f.id));
  let done = 0;
  await inParallel(rows, pool.threads, async (row) => {
    if (signal.aborted) throw new Error('cancelled');
    await summariseCardFile(services, row, signal);
    onProgress((0.9 * ++done) / rows.length, `looked at ${done} of ${rows.length} files`);
  });
  dropDoubles(services, cardId);
  const ready = storage.cards
    .files(cardId)
    .filter((f) => f.digest !== null)
    .sort((a, b) => BY_NAME.compare(a.file_name, b.file_name));
  const grouped = await pool.run('group', { summaries: ready.map((f) => storage.folder.summary(f.id)) }, signal);
  const failed = storage.cards.files(cardId).filter((f) => f.digest === null);
  storage.cards.setSorting(cardId, keepSorting(grouped, ready, failed));
  onProgress(1, `${grouped.sorting.sets.length} sets found`);
}

/** Files that hold several pictures give way to them; returns the files that could not be taken apart. */
async function takeAllApart(services: Services, cardId: string, signal: AbortSignal): Promise<ReadonlySet<string>> {
  const spoilt = new Set<string>();
  const { storage } = services;
  const { cards } = storage;
  for (const row of cards.files(cardId).filter((f) => f.digest === null)) {
    try {
      const parts = await takePartsOut(services, row.source_path, row.file_name, signal);
      if (!parts) continue;
      storage.discard([row.id], () => {
        cards.dropFile(row.id);
        for (const { id, name, path, sizeBytes } of parts)
          cards.addFile({ id, card_id: cardId, file_name: name, source_path: path, size_bytes: sizeBytes });
        storage.keep(parts.map((p) => p.id));
      });
    } catch (error) {
      if (signal.aborted || isFull(error)) throw error;
      cards.setFailed(row.id, wordsOf(services, row, error));
      spoilt.add(row.id);
    }
  }
  return spoilt;
}

/** Summarises a file for sorting, and keeps a thumbnail, unless both were done before; a file that cannot be read is marked so. */
export async function summariseCardFile(services: Services, row: CardFileRow, signal: AbortSignal): Promise<void> {
  const { storage, pool } = services;
  const { folder, cards } = storage;
  if (row.digest !== null && existsSync(folder.summary(row.id))) return;
  const out = folder.scratchFile('.summary');
  const thumb = folder.scratchFile('.jpg');
  try {
    const { digest, exif } = await pool.run(
      'summarise',
      { path: row.source_path, name: row.file_name, out, thumb },
      signal,
    );
    await moveDurably(thumb, folder.thumb(row.id));
    await moveDurably(out, folder.summary(row.id));
    cards.setLooked(row.id, digest, exif);
  } catch (error) {
    if (signal.aborted || isFull(error)) throw error;
    cards.setFailed(row.id, wordsOf(services, row, error));
  } finally {
    for (const path of [out, thumb]) await rm(path, { force: true });
  }
}

/** Why a file could not be looked at; what nobody foresaw goes to the log. */
function wordsOf({ log }: Services, row: CardFileRow, error: unknown): string {
  if (error instanceof InputError) return error.message;
  log.error({ err: error, file: row.file_name }, 'looking at a picture failed');
  return `${row.file_name}: it could not be read, for a reason that is not foreseen (it stands in the log).`;
}

/** The same file dropped twice is kept once. */
function dropDoubles({ storage }: Services, cardId: string): void {
  const seen = new Set<string>();
  for (const file of storage.cards.files(cardId)) {
    if (file.digest === null) continue;
    if (seen.has(file.digest)) storage.discard([file.id], () => storage.cards.dropFile(file.id));
    seen.add(file.digest);
  }
}

function keepSorting(
  { sorting, checks, labels, overlaps }: TaskResponse<'group'>,
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
      overlaps: [...overlaps[k]!],
      jobId: null,
    })),
    separators: ids(sorting.separators),
    unassigned: [...ids(sorting.unassigned), ...failed.map((f) => f.id)],
  };
}
