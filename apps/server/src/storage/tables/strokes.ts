// Table `strokes`: the list from which undo, redo, autosave and recovery come.
import { strokeSchema, type SavedStroke, type StrokeRecord } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface StrokeRow {
  readonly id: string;
  readonly merge_id: string;
  readonly seq: number;
  readonly body: string;
  readonly undone: number;
}

function toStroke(row: StrokeRow): SavedStroke {
  return { ...strokeSchema.parse(JSON.parse(row.body)), id: row.id, undone: row.undone === 1 };
}

export function strokesTable(db: Db) {
  const insert = db.prepare<[string, string, string, string]>(
    `INSERT INTO strokes (id, merge_id, seq, body)
     VALUES (?, ?, (SELECT coalesce(max(seq), 0) + 1 FROM strokes WHERE merge_id = ?), ?)`,
  );
  const byMerge = db.prepare<[string], StrokeRow>('SELECT * FROM strokes WHERE merge_id = ? ORDER BY seq');
  const one = db.prepare<[string], StrokeRow>('SELECT * FROM strokes WHERE id = ?');
  const dropUndone = db.prepare<[string]>('DELETE FROM strokes WHERE merge_id = ? AND undone = 1');
  const undo = db.prepare<[string, string]>(
    'UPDATE strokes SET undone = 1 WHERE merge_id = ? AND seq = (SELECT max(seq) FROM strokes WHERE merge_id = ? AND undone = 0) RETURNING *',
  );
  const redo = db.prepare<[string, string]>(
    'UPDATE strokes SET undone = 0 WHERE merge_id = ? AND seq = (SELECT min(seq) FROM strokes WHERE merge_id = ? AND undone = 1) RETURNING *',
  );
  const change = (statement: typeof undo, mergeId: string): SavedStroke | undefined => {
    const row = statement.get(mergeId, mergeId) as StrokeRow | undefined;
    return row ? toStroke(row) : undefined;
  };
  return {
    /** Appends a stroke; what was undone before can no longer be redone. */
    append: (mergeId: string, id: string, stroke: StrokeRecord) => {
      dropUndone.run(mergeId);
      insert.run(id, mergeId, mergeId, JSON.stringify(stroke));
    },
    listByMerge: (mergeId: string) => byMerge.all(mergeId).map(toStroke),
    exists: (id: string) => one.get(id) !== undefined,
    undo: (mergeId: string) => change(undo, mergeId),
    redo: (mergeId: string) => change(redo, mergeId),
  };
}
