// The database and the data folder.
import { cardsTable } from './tables/cards';
import { findingsTable } from './tables/findings';
import { jobsTable } from './tables/jobs';
import { jobPlansTable } from './tables/jobPlans';
import { kitTable } from './tables/kit';
import { linkedFramesTable } from './tables/linkedFrames';
import { mergesTable } from './tables/merges';
import { picturesTable } from './tables/pictures';
import { plansTable } from './tables/plans';
import { strokesTable } from './tables/strokes';
import { workTable } from './tables/work';
import { openDatabase, type Db } from './openDatabase';
import { openDataFolder, sweepOrphans, type DataFolder } from './dataFolder';

export interface Storage {
  readonly db: Db;
  readonly folder: DataFolder;
  readonly jobs: ReturnType<typeof jobsTable>;
  readonly pictures: ReturnType<typeof picturesTable>;
  readonly merges: ReturnType<typeof mergesTable>;
  readonly findings: ReturnType<typeof findingsTable>;
  readonly strokes: ReturnType<typeof strokesTable>;
  readonly work: ReturnType<typeof workTable>;
  readonly cards: ReturnType<typeof cardsTable>;
  readonly linkedFrames: ReturnType<typeof linkedFramesTable>;
  readonly plans: ReturnType<typeof plansTable>;
  readonly jobPlans: ReturnType<typeof jobPlansTable>;
  readonly kit: ReturnType<typeof kitTable>;
  /** Runs work in one transaction. */
  transaction<T>(work: () => T): T;
  close(): void;
}

/** Opens storage in a data folder, sweeping what a killed run left behind. */
export function openStorage(root: string): Storage {
  const folder = openDataFolder(root);
  const db = openDatabase(folder.database);
  const storage: Storage = {
    db,
    folder,
    jobs: jobsTable(db),
    pictures: picturesTable(db),
    merges: mergesTable(db),
    findings: findingsTable(db),
    strokes: strokesTable(db),
    work: workTable(db),
    cards: cardsTable(db),
    linkedFrames: linkedFramesTable(db),
    plans: plansTable(db),
    jobPlans: jobPlansTable(db),
    kit: kitTable(db),
    transaction: (work) => db.transaction(work)(),
    close: () => db.close(),
  };
  sweepOrphans(folder, new Set([...storage.pictures.ids(), ...storage.merges.ids(), ...storage.cards.fileIds()]));
  return storage;
}

export { removeFiles, type DataFolder } from './dataFolder';
export { cardSorting, type CardFileRow, type CardRow } from './tables/cards';
export type { LinkedFrameRow } from './tables/linkedFrames';
export type { JobRow } from './tables/jobs';
export { mergeBody, type MergeBody, type MergeRow } from './tables/merges';
export { pictureInfo, type PictureInfoRecord, type PictureRow } from './tables/pictures';
export { toWork, type WorkRow } from './tables/work';
