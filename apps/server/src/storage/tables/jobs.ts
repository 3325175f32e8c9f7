// Table `jobs`.
import type { MergeKind } from '@blendrak/contract';
import type { Db } from '../openDatabase';

export interface JobRow {
  readonly id: string;
  readonly name: string;
  readonly kind: MergeKind;
  readonly created_at: string;
}

export function jobsTable(db: Db) {
  const insert = db.prepare<[string, string, string, string]>(
    'INSERT INTO jobs (id, name, kind, created_at) VALUES (?, ?, ?, ?)',
  );
  const one = db.prepare<[string], JobRow>('SELECT * FROM jobs WHERE id = ?');
  const all = db.prepare<[], JobRow>('SELECT * FROM jobs ORDER BY created_at DESC, rowid DESC');
  const rename = db.prepare<[string, string]>('UPDATE jobs SET name = ? WHERE id = ?');
  const remove = db.prepare<[string]>('DELETE FROM jobs WHERE id = ?');
  return {
    insert: (row: JobRow) => insert.run(row.id, row.name, row.kind, row.created_at),
    find: (id: string) => one.get(id),
    list: () => all.all(),
    rename: (id: string, name: string) => rename.run(name, id),
    remove: (id: string) => remove.run(id),
  };
}
