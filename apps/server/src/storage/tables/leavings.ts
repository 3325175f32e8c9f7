// Table `leavings`: files that are to go. Named before they are removed, so that a kill in between leaves nothing lying.
import type { Db } from '../openDatabase';

export function leavingsTable(db: Db) {
  const insert = db.prepare<[string]>('INSERT OR IGNORE INTO leavings (path) VALUES (?)');
  const all = db.prepare<[], { path: string }>('SELECT path FROM leavings');
  const remove = db.prepare<[string]>('DELETE FROM leavings WHERE path = ?');
  return {
    /** @param path relative to the data folder */
    add: (path: string) => insert.run(path),
    list: () => all.all().map((row) => row.path),
    drop: (path: string) => remove.run(path),
  };
}
