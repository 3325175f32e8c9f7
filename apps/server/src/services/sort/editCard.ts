// A card's sorting edited by hand, and its sets made into jobs.
import { constants, copyFileSync, existsSync, linkSync } from 'node:fs';
import type { Card, CardSet, CardSorting, JobSummary } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import { cardSorting, type CardFileRow } from '../../storage';
import { newId, type Services } from '../context';
import { recordFrames } from '../intake/takeFiles';
import { createJob, openJob } from '../jobsService';
import { openCard, requireCard } from './cardService';
import { summariseCardFile } from './sortCard';

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
  services.events.publish({ topic: 'card', id: cardId });
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
  const { storage, pool, log } = services;
  const keyOf = (set: CardSet): string => `${set.kind} ${set.files.join()}`;
  const known = new Set(before?.sets.map(keyOf));
  for (const set of after.sets.filter((s) => s.nested.length === 0 && !known.has(keyOf(s)))) {
    try {
      // Files of a card that an older version sorted were never summarised in this one's way.
      for (const file of storage.cards.files(cardId))
        if (set.files.includes(file.id)) await summariseCardFile(services, file, new AbortController().signal);
      const ids = set.files.filter((id) => existsSync(storage.folder.summary(id)));
      if (ids.length === 0) continue;
      const summaries = ids.map((id) => storage.folder.summary(id));
      const { checks, overlaps } = await pool.run('checkSet', { summaries, kind: set.kind });
      const row = storage.cards.find(cardId);
      const now = row && cardSorting(row);
      // Edits go on meanwhile: only a set that still is what was checked gets the answer.
      if (!now?.sets.some((s) => s.id === set.id && keyOf(s) === keyOf(set))) continue;
      const named = checks.map(({ frame, ...check }) => ({ file: ids[frame]!, ...check }));
      storage.cards.setSorting(cardId, {
        ...now,
        sets: now.sets.map((s) => (s.id === set.id ? { ...s, checks: named, overlaps: [...overlaps] } : s)),
      });
      services.events.publish({ topic: 'card', id: cardId });
    } catch (error) {
      log.error({ err: error, cardId, set: set.id }, 'checking a changed set failed');
    }
  }
}

/** Makes a job of a set: its frames, in order, without those left out. Files of folders are read where they lie. */
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
      frames.map((f) => ownFile(services, f)),
    );
    const sets = sorting.sets.map((s) => (s.id === setId ? { ...s, jobId: job.id } : s));
    storage.cards.setSorting(cardId, { ...sorting, sets });
    services.events.publish({ topic: 'card', id: cardId });
    return openJob(services, job.id).summary;
  });
}

/** A file of a card as a frame of a job. An upload gets a second name on the disk: the card may go before the job does. */
function ownFile(
  { storage }: Services,
  { id, file_name, source_path, size_bytes }: CardFileRow,
): { id?: string; name: string; path: string; sizeBytes: number } {
  const file = { name: file_name, path: source_path, sizeBytes: size_bytes };
  if (source_path !== storage.folder.original(id)) return file;
  const own = newId();
  const path = storage.folder.original(own);
  try {
    linkSync(source_path, path);
  } catch {
    // Some file systems know no second names: there it is a copy.
    copyFileSync(source_path, path, constants.COPYFILE_FICLONE);
  }
  return { ...file, id: own, path };
}
