// Table `strokes`: the list from which undo, redo, autosave and recovery come. Nothing is ever deleted from it.
import { strokeSchema, type SavedStroke, type StrokeChanges, type StrokeRecord } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface StrokeRow {
  readonly id: string;
  readonly merge_id: string;
  readonly seq: number;
  readonly body: string;
  /** 0 in force; above, the order in which strokes were undone; −1 brought back under another id. */
  readonly undone: number;
  /** The merge's revision at which it last changed. */
  readonly revision: number;
}

function toStroke(row: StrokeRow): SavedStroke {
  return { ...strokeSchema.parse(JSON.parse(row.body)), id: row.id, undone: row.undone !== 0 };
}

export function strokesTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, number]>(
    `INSERT INTO strokes (id, merge_id, seq, body, revision)
     VALUES (?, ?, (SELECT coalesce(max(seq), 0) + 1 FROM strokes WHERE merge_id = ?), ?, ?)`,
  );
  const since = db.prepare<[string, number], StrokeRow>(
    'SELECT * FROM strokes WHERE merge_id = ? AND revision > ? ORDER BY seq',
  );
  const one = db.prepare<[string], StrokeRow>('SELECT * FROM strokes WHERE id = ?');
  const top = db.prepare<[string], StrokeRow>(
    'SELECT * FROM strokes WHERE merge_id = ? AND undone = 0 ORDER BY seq DESC LIMIT 1',
  );
  const lastUndone = db.prepare<[string], StrokeRow>(
    'SELECT * FROM strokes WHERE merge_id = ? AND undone > 0 ORDER BY undone DESC LIMIT 1',
  );
  const mark = db.prepare<[number, number, string]>('UPDATE strokes SET undone = ?, revision = ? WHERE id = ?');
  const append = (mergeId: string, id: string, body: string, revision: number): void => {
    insert.run(id, mergeId, mergeId, body, revision);
  };
  const changedSince = (mergeId: string, revision: number): Omit<StrokeChanges, 'revision'> => {
    const rows = since.all(mergeId, revision);
    return {
      changed: rows.filter((r) => r.undone >= 0).map(toStroke),
      gone: rows.filter((r) => r.undone < 0).map((r) => r.id),
    };
  };
  return {
    append: (mergeId: string, id: string, stroke: StrokeRecord, revision: number) =>
      append(mergeId, id, JSON.stringify(stroke), revision),
    /** Strokes that changed after a revision, in the order in which they act; −1 for all. */
    changedSince,
    /** All strokes, in the order in which they act. */
    listByMerge: (mergeId: string) => changedSince(mergeId, -1).changed,
    find: (id: string) => one.get(id),
    /** Takes back the last stroke in force. */
    undo: (mergeId: string, revision: number): SavedStroke | undefined => {
      const row = top.get(mergeId);
      if (!row) return undefined;
      mark.run((lastUndone.get(mergeId)?.undone ?? 0) + 1, revision, row.id);
      return toStroke(one.get(row.id)!);
    },
    /**
     * Brings back the stroke that was undone last. Where others were painted meanwhile it comes to lie on top of them, under
     * a new id: an id stands for itself and all that lay below it.
     */
    redo: (mergeId: string, newId: string, revision: number): SavedStroke | undefined => {
      const row = lastUndone.get(mergeId);
      if (!row) return undefined;
      const covered = (top.get(mergeId)?.seq ?? 0) > row.seq;
      mark.run(covered ? -1 : 0, revision, row.id);
      if (covered) append(mergeId, newId, row.body, revision);
      return toStroke(one.get(covered ? newId : row.id)!);
    },
  };
}
