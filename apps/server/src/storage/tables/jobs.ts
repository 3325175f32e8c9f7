// Table `jobs`.
import type { Circumstances, MergeKind, ViewingSettings } from '@blendrak/contract';
import type { Db } from '../openDatabase';

export interface JobRow {
  readonly id: string;
  readonly name: string;
  readonly kind: MergeKind;
  readonly created_at: string;
}

export interface StoredJob extends JobRow {
  /** 1 while nobody has said the kind. */
  readonly is_kind_open: number;
  /** ViewingSettings as JSON; null for a screen. */
  readonly viewing: string | null;
  /** Circumstances as JSON; null while nobody has said. */
  readonly circumstances: string | null;
}

export function jobsTable(db: Db) {
  const insert = db.prepare<[string, string, string, string]>(
    'INSERT INTO jobs (id, name, kind, created_at) VALUES (?, ?, ?, ?)',
  );
  const one = db.prepare<[string], StoredJob>('SELECT * FROM jobs WHERE id = ?');
  const all = db.prepare<[], StoredJob>('SELECT * FROM jobs ORDER BY created_at DESC, rowid DESC');
  const open = db.prepare<[string]>('UPDATE jobs SET is_kind_open = 1 WHERE id = ?');
  const tell = db.prepare<[string, string]>('UPDATE jobs SET kind = ?, is_kind_open = 0 WHERE id = ?');
  const rename = db.prepare<[string, string]>('UPDATE jobs SET name = ? WHERE id = ?');
  const look = db.prepare<[string, string]>('UPDATE jobs SET viewing = ? WHERE id = ?');
  const say = db.prepare<[string, string]>('UPDATE jobs SET circumstances = ? WHERE id = ?');
  const remove = db.prepare<[string]>('DELETE FROM jobs WHERE id = ?');
  return {
    insert: (row: JobRow) => insert.run(row.id, row.name, row.kind, row.created_at),
    find: (id: string) => one.get(id),
    list: () => all.all(),
    /** Leaves the kind to be told from the frames. */
    openKind: (id: string) => open.run(id),
    setKind: (id: string, kind: MergeKind) => tell.run(kind, id),
    rename: (id: string, name: string) => rename.run(name, id),
    setViewing: (id: string, viewing: ViewingSettings) => look.run(JSON.stringify(viewing), id),
    setCircumstances: (id: string, circumstances: Circumstances) => say.run(JSON.stringify(circumstances), id),
    remove: (id: string) => remove.run(id),
  };
}
