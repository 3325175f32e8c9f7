// Work `sort`: a card's files looked at and grouped into sets.
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { deserialize, serialize } from 'node:v8';
import type { CardSorting } from '@blendrak/contract';
import type { SortFrame } from '@blendrak/core/sort';
import { readExif } from '../../codecs';
import type { TaskResponse } from '../../jobs/protocol';
import { removeFiles, type CardFileRow } from '../../storage';
import { newId, type Services } from '../context';
import { takePartsOut } from '../intakeService';
import { inParallel } from '../pipeline';

const BY_NAME = new Intl.Collator('en', { numeric: true });

/** Work `sort`: looks at each file (what was looked at before a kill is kept), then groups them. */
export async function runSort(
  services: Services,
  cardId: string,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const { storage, pool } = services;
  const spoilt = await takeAllApart(services, cardId);
  const rows = storage.cards.files(cardId).filter((f) => !spoilt.has(f.id));
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

/** Files that hold several pictures give way to them; returns the files that could not be taken apart. */
async function takeAllApart(services: Services, cardId: string): Promise<ReadonlySet<string>> {
  const spoilt = new Set<string>();
  const { cards, folder } = services.storage;
  for (const row of cards.files(cardId).filter((f) => f.digest === null)) {
    try {
      const parts = await takePartsOut(services, row.source_path, row.file_name);
      if (!parts) continue;
      services.storage.transaction(() => {
        cards.dropFile(row.id);
        for (const { id, name, path, sizeBytes } of parts)
          cards.addFile({ id, card_id: cardId, file_name: name, source_path: path, size_bytes: sizeBytes });
      });
      removeFiles(folder, row.id);
    } catch (error) {
      cards.setFailed(row.id, error instanceof Error ? error.message : String(error));
      spoilt.add(row.id);
    }
  }
  return spoilt;
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
