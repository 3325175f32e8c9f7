// The database and the data folder.
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { relative } from 'node:path';
import { cardsTable } from './tables/cards';
import { exercisesTable } from './tables/exercises';
import { findingsTable } from './tables/findings';
import { finishesTable } from './tables/finishes';
import { jobsTable } from './tables/jobs';
import { jobFactsTable } from './tables/jobFacts';
import { jobPlansTable } from './tables/jobPlans';
import { journalTable } from './tables/journal';
import { kitTable } from './tables/kit';
import { leavingsTable } from './tables/leavings';
import { lessonChoicesTable } from './tables/lessonChoices';
import { linkedFramesTable } from './tables/linkedFrames';
import { mergesTable } from './tables/merges';
import { operationChangesTable } from './tables/operationChanges';
import { operationsTable } from './tables/operations';
import { pinsTable } from './tables/pins';
import { picturesTable } from './tables/pictures';
import { plansTable } from './tables/plans';
import { proposalsTable } from './tables/proposals';
import { sourcesTable } from './tables/sources';
import { sweepsTable } from './tables/sweeps';
import { timeSpentTable } from './tables/timeSpent';
import { workTable } from './tables/work';
import { openDatabase, retryWhenFull, type Db } from './openDatabase';
import { dataFolder, findOrphans, makeFolders, pathsOf, removePaths, setAside, type DataFolder } from './dataFolder';
import { claimFolder, type Claim } from './ownership';
import { openReserve, type Reserve } from './reserve';

export interface Storage {
  readonly db: Db;
  readonly folder: DataFolder;
  readonly claim: Claim;
  readonly reserve: Reserve;
  /** What whoever starts the server should know of the data folder, in words. */
  readonly notices: readonly string[];
  readonly jobs: ReturnType<typeof jobsTable>;
  readonly pictures: ReturnType<typeof picturesTable>;
  readonly merges: ReturnType<typeof mergesTable>;
  readonly findings: ReturnType<typeof findingsTable>;
  readonly pins: ReturnType<typeof pinsTable>;
  readonly sweeps: ReturnType<typeof sweepsTable>;
  readonly operations: ReturnType<typeof operationsTable>;
  readonly operationChanges: ReturnType<typeof operationChangesTable>;
  readonly proposals: ReturnType<typeof proposalsTable>;
  readonly sources: ReturnType<typeof sourcesTable>;
  readonly exercises: ReturnType<typeof exercisesTable>;
  readonly timeSpent: ReturnType<typeof timeSpentTable>;
  readonly jobFacts: ReturnType<typeof jobFactsTable>;
  readonly finishes: ReturnType<typeof finishesTable>;
  readonly journal: ReturnType<typeof journalTable>;
  readonly lessonChoices: ReturnType<typeof lessonChoicesTable>;
  readonly work: ReturnType<typeof workTable>;
  readonly cards: ReturnType<typeof cardsTable>;
  readonly linkedFrames: ReturnType<typeof linkedFramesTable>;
  readonly plans: ReturnType<typeof plansTable>;
  readonly jobPlans: ReturnType<typeof jobPlansTable>;
  readonly kit: ReturnType<typeof kitTable>;
  /** Runs work in one transaction; on a full disk once more, on the reserve. */
  transaction<T>(work: () => T): T;
  /**
   * Forgets rows, then removes their files; a kill in between leaves nothing lying.
   * @param ids of pictures, merges, sources and files of cards
   * @param forget deletes the rows, in the same transaction
   * @param folders further folders that go, as full paths in the data folder
   */
  discard(ids: readonly string[], forget: () => void, folders?: readonly string[]): void;
  /**
   * Says that files of new ids are about to be moved into place. Until they are kept, a kill leaves them to be removed: they
   * were made here, and nobody has been told of them.
   */
  expect(ids: readonly string[]): void;
  /** Keeps what was expected; call in the transaction that records the rows. */
  keep(ids: readonly string[]): void;
  close(): void;
}

/**
 * Opens storage in a data folder.
 * @param claim right to work in it; claimed here when left out
 * @throws InputError when the folder is not ours, or another server works in it
 */
export function openStorage(root: string, claim: Claim = claimFolder(root)): Storage {
  const folder = dataFolder(claim.root, `run-${randomBytes(6).toString('hex')}`);
  const isNew = !existsSync(folder.database);
  const db = openDatabase(folder.database);
  makeFolders(folder);
  const reserve = openReserve(folder.reserve);
  const transaction = retryWhenFull(db, reserve.spend);
  const leavings = leavingsTable(db);
  const storage: Storage = {
    db,
    folder,
    claim,
    reserve,
    notices: [],
    jobs: jobsTable(db),
    pictures: picturesTable(db),
    merges: mergesTable(db),
    findings: findingsTable(db),
    pins: pinsTable(db),
    sweeps: sweepsTable(db),
    operations: operationsTable(db),
    operationChanges: operationChangesTable(db),
    proposals: proposalsTable(db),
    sources: sourcesTable(db),
    exercises: exercisesTable(db),
    timeSpent: timeSpentTable(db),
    jobFacts: jobFactsTable(db),
    finishes: finishesTable(db),
    journal: journalTable(db),
    lessonChoices: lessonChoicesTable(db),
    work: workTable(db),
    cards: cardsTable(db),
    linkedFrames: linkedFramesTable(db),
    plans: plansTable(db),
    jobPlans: jobPlansTable(db),
    kit: kitTable(db),
    transaction,
    discard(ids, forget, folders = []) {
      const paths = [...pathsOf(folder, ids), ...folders.map((path) => relative(folder.root, path))];
      transaction(() => {
        forget();
        paths.forEach(leavings.add);
      });
      removePaths(folder, paths);
      transaction(() => paths.forEach(leavings.drop));
    },
    expect: (ids) => transaction(() => pathsOf(folder, ids).forEach(leavings.add)),
    keep: (ids) => pathsOf(folder, ids).forEach(leavings.drop),
    close: () => {
      removePaths(folder, [relative(folder.root, folder.scratch)]);
      db.close();
      claim.release();
    },
  };
  // What earlier runs named before a kill: their scratch, and files of rows that are gone.
  for (const path of leavings.list()) {
    removePaths(folder, [path]);
    leavings.drop(path);
  }
  leavings.add(relative(folder.root, folder.scratch));
  return { ...storage, notices: lookForOrphans(storage, isNew) };
}

/** Files that no row names are moved out of the way; a new database knows no file and moves none. */
function lookForOrphans({ folder, pictures, merges, sources, cards, jobs, work }: Storage, isNew: boolean): string[] {
  const known = new Set([
    ...pictures.ids(),
    ...merges.ids(),
    ...sources.ids(),
    ...cards.fileIds(),
    ...work.idsOf('export'),
    ...work.idsOf('deliver'),
  ]);
  const orphans = findOrphans(folder, known, new Set(jobs.list().map((job) => job.id)));
  if (orphans.length === 0) return [];
  const few = orphans.slice(0, 5).join(', ') + (orphans.length > 5 ? ` and ${orphans.length - 5} more` : '');
  const count = `${orphans.length} ${orphans.length === 1 ? 'file' : 'files'}`;
  if (isNew)
    return [
      `The database of ${folder.root} is new and does not know ${count} that lie there: ${few}. They stay as they are.`,
    ];
  const to = setAside(folder, orphans, new Date().toISOString().slice(0, 10));
  return [`${count} that no job names were moved to ${to}: ${few}.`];
}

export type { DataFolder } from './dataFolder';
export { claimFolder, type Claim } from './ownership';
export { moveDurably, writeDurably } from './durable';
export { cardSorting, type CardFileRow, type CardRow } from './tables/cards';
export type { LinkedFrameRow } from './tables/linkedFrames';
export type { JobRow, StoredJob } from './tables/jobs';
export { mergeBody, type MergeBody, type MergeHead, type MergeRow, type PanoramaCameras } from './tables/merges';
export type { StoredSolution } from './tables/exercises';
export type { FinishBody } from './tables/finishes';
export { withoutGaps, type LoggedChange } from './tables/operationChanges';
export type { OperationFields } from './tables/operations';
export type { StoredSource } from './tables/sources';
export { pictureInfo, type PictureInfoRecord, type PictureRow } from './tables/pictures';
export { toWork, type WorkRow } from './tables/work';
