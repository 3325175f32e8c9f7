// The database file and its migrations: numbered, forward only.
import Database from 'better-sqlite3';
import start from './migrations/0001_start.sql';
import shoot from './migrations/0002_shoot.sql';
import plans from './migrations/0003_plans.sql';
import cards from './migrations/0004_cards.sql';
import linkedFrames from './migrations/0005_linked_frames.sql';
import subjectAreas from './migrations/0006_subject_areas.sql';

export type Db = Database.Database;

/** Migrations in order; index + 1 is the version they lead to. */
export const MIGRATIONS: readonly string[] = [start, shoot, plans, cards, linkedFrames, subjectAreas];

/**
 * Opens (or creates) a database and brings it to the newest version.
 * @param upTo stop at this version, for tests of older data
 * @throws Error when the file was written by a newer application
 */
export function openDatabase(path: string, upTo = MIGRATIONS.length): Db {
  const db = new Database(path);
  db.pragma('journal_mode = WAL');
  db.pragma('synchronous = NORMAL');
  db.pragma('foreign_keys = ON');
  const version = db.pragma('user_version', { simple: true }) as number;
  if (version > MIGRATIONS.length) {
    db.close();
    throw new Error(
      `${path} has version ${version}, this application knows up to ${MIGRATIONS.length}: use a newer one`,
    );
  }
  for (let v = version; v < upTo; v++) {
    db.transaction(() => {
      db.exec(MIGRATIONS[v]!);
      db.pragma(`user_version = ${v + 1}`);
    })();
  }
  return db;
}
