// The database file and its migrations: numbered, forward only.
import Database from 'better-sqlite3';
import { InputError } from '../codecs';
import { isFull } from '../shared/noRoom';
import start from './migrations/0001_start.sql';
import shoot from './migrations/0002_shoot.sql';
import plans from './migrations/0003_plans.sql';
import cards from './migrations/0004_cards.sql';
import linkedFrames from './migrations/0005_linked_frames.sql';
import subjectAreas from './migrations/0006_subject_areas.sql';
import safe from './migrations/0007_safe.sql';
import geometry from './migrations/0008_geometry.sql';
import layers from './migrations/0009_layers.sql';
import redundant from './migrations/0010_redundant.sql';
import facts from './migrations/0011_facts.sql';
import operations from './migrations/0012_operations.sql';
import instruments from './migrations/0013_instruments.sql';
import proposals from './migrations/0014_proposals.sql';
import finish from './migrations/0015_finish.sql';
import log from './migrations/0016_log.sql';
import practice from './migrations/0017_practice.sql';
import time from './migrations/0018_time.sql';
import circumstances from './migrations/0019_circumstances.sql';
import masks from './migrations/0020_masks.sql';
import carried from './migrations/0021_carried.sql';
import sources from './migrations/0022_sources.sql';
import kindOpen from './migrations/0023_kind_open.sql';

export type Db = Database.Database;

/** Migrations in order; index + 1 is the version they lead to. */
export const MIGRATIONS: readonly string[] = [
  start,
  shoot,
  plans,
  cards,
  linkedFrames,
  subjectAreas,
  safe,
  geometry,
  layers,
  redundant,
  facts,
  operations,
  instruments,
  proposals,
  finish,
  log,
  practice,
  time,
  circumstances,
  masks,
  carried,
  sources,
  kindOpen,
];

/**
 * Opens (or creates) a database and brings it to the newest version. What it has acknowledged is on the disk.
 * @param upTo stop at this version, for tests of older data
 * @throws InputError when the file was written by a newer application
 */
export function openDatabase(path: string, upTo = MIGRATIONS.length): Db {
  const db = new Database(path);
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = FULL');
  const version = db.pragma('user_version', { simple: true }) as number;
  if (version > MIGRATIONS.length) {
    db.close();
    throw new InputError(
      path,
      `the database has version ${version}`,
      `versions up to ${MIGRATIONS.length}, or a newer Blendrak`,
    );
  }
  // Tables that others refer to are rebuilt by some migrations: that must not cascade.
  db.pragma('foreign_keys = OFF');
  for (let v = version; v < upTo; v++) {
    db.transaction(() => {
      db.exec(MIGRATIONS[v]!);
      db.pragma(`user_version = ${v + 1}`);
    })();
  }
  db.pragma('foreign_keys = ON');
  return db;
}

/**
 * Makes single statements and whole transactions of a database try once more when the disk is full and `makeRoom` has
 * found some.
 * @returns runs work in one transaction
 */
export function retryWhenFull(db: Db, makeRoom: () => boolean): <T>(work: () => T) => T {
  const again = <T>(work: () => T): T => {
    // A full disk may end the transaction that a statement is part of: only its opener can begin again.
    if (db.inTransaction) return work();
    try {
      return work();
    } catch (error) {
      if (!isFull(error) || !makeRoom()) throw error;
      return work();
    }
  };
  const prepare = db.prepare.bind(db);
  db.prepare = ((sql: string) => {
    const statement = prepare(sql);
    const run = statement.run.bind(statement);
    statement.run = (...parameters) => again(() => run(...parameters));
    return statement;
  }) as Db['prepare'];
  return (work) => again(() => db.transaction(work)());
}
