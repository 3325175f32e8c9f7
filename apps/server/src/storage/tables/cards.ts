// Tables `cards` and `card_files`.
import { sortingSchema, type CardSorting, type Exif } from '@blendrak/contract';
import type { Db } from '../openDatabase';

export interface CardRow {
  readonly id: string;
  readonly name: string;
  readonly sorting: string | null;
  readonly created_at: string;
}

export interface CardFileRow {
  readonly id: string;
  readonly card_id: string;
  readonly file_name: string;
  readonly source_path: string;
  readonly size_bytes: number;
  /** SHA-256 of the contents, to find the same file again; null until it was looked at. */
  readonly digest: string | null;
  /** Settings in the file, as JSON. */
  readonly exif: string | null;
  readonly error: string | null;
}

export function cardsTable(db: Db) {
  const insert = db.prepare<[string, string, string]>('INSERT INTO cards (id, name, created_at) VALUES (?, ?, ?)');
  const one = db.prepare<[string], CardRow>('SELECT * FROM cards WHERE id = ?');
  const all = db.prepare<[], CardRow>('SELECT * FROM cards ORDER BY created_at DESC, rowid DESC');
  const sort = db.prepare<[string | null, string]>('UPDATE cards SET sorting = ? WHERE id = ?');
  const remove = db.prepare<[string]>('DELETE FROM cards WHERE id = ?');
  const addFile = db.prepare<[string, string, string, string, number]>(
    'INSERT INTO card_files (id, card_id, file_name, source_path, size_bytes) VALUES (?, ?, ?, ?, ?)',
  );
  const files = db.prepare<[string], CardFileRow>('SELECT * FROM card_files WHERE card_id = ? ORDER BY rowid');
  const file = db.prepare<[string], CardFileRow>('SELECT * FROM card_files WHERE id = ?');
  const ids = db.prepare<[], { id: string }>('SELECT id FROM card_files');
  const looked = db.prepare<[string | null, string | null, string | null, string]>(
    'UPDATE card_files SET digest = ?, exif = ?, error = ? WHERE id = ?',
  );
  const dropFile = db.prepare<[string]>('DELETE FROM card_files WHERE id = ?');
  return {
    insert: (id: string, name: string, now: string) => insert.run(id, name, now),
    find: (id: string) => one.get(id),
    list: () => all.all(),
    setSorting: (id: string, sorting: CardSorting | null) => sort.run(sorting && JSON.stringify(sorting), id),
    remove: (id: string) => remove.run(id),
    addFile: (row: Omit<CardFileRow, 'digest' | 'exif' | 'error'>) =>
      addFile.run(row.id, row.card_id, row.file_name, row.source_path, row.size_bytes),
    files: (cardId: string) => files.all(cardId),
    findFile: (id: string) => file.get(id),
    fileIds: () => ids.all().map((r) => r.id),
    setLooked: (id: string, digest: string, exif: Exif | null) =>
      looked.run(digest, exif && JSON.stringify(exif), null, id),
    setFailed: (id: string, error: string) => looked.run(null, null, error, id),
    dropFile: (id: string) => dropFile.run(id),
  };
}

/** The sorting of a card; null before it was sorted. */
export function cardSorting(row: CardRow): CardSorting | null {
  return row.sorting === null ? null : sortingSchema.parse(JSON.parse(row.sorting));
}
