// Table `operation_changes`: who changed what of which operation, with its inverse; undo and redo come from it.
import { z } from 'zod';
import { operationStateSchema } from '@blendrak/contract';
import type { Db } from '../openDatabase';
import type { OperationFields } from './operations';

interface ChangeRow {
  readonly id: string;
  readonly operation_id: string;
  readonly before: string;
  readonly after: string;
}

/** Undo looks back so far for a change that nobody else has overtaken. */
const LOOK_BACK = 200;

/** A change of an operation that can be taken back. */
export interface LoggedChange {
  readonly id: string;
  readonly operationId: string;
  readonly before: Partial<OperationFields>;
  readonly after: Partial<OperationFields>;
}

const fieldsSchema = operationStateSchema.extend({ live: z.boolean() }).partial();

function toChange({ id, operation_id, before, after }: ChangeRow): LoggedChange {
  const fields = (text: string): Partial<OperationFields> => withoutGaps(fieldsSchema.parse(JSON.parse(text)));
  return { id, operationId: operation_id, before: fields(before), after: fields(after) };
}

/** Fields without those that are left out. */
export function withoutGaps(fields: {
  readonly [K in keyof OperationFields]?: OperationFields[K] | undefined;
}): Partial<OperationFields> {
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined));
}

export function operationChangesTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, string, string | null, string | null, string | null]>(
    `INSERT INTO operation_changes (id, merge_id, seq, person, asked, operation_id, before, after)
     VALUES (?, ?, (SELECT coalesce(max(seq), 0) + 1 FROM operation_changes WHERE merge_id = ?), ?, ?, ?, ?, ?)`,
  );
  const asked = db.prepare<[string], { mergeId: string; asked: string }>(
    'SELECT merge_id AS mergeId, asked FROM operation_changes WHERE id = ?',
  );
  const standing = db.prepare<[string, string], ChangeRow>(
    `SELECT id, operation_id, before, after FROM operation_changes
     WHERE merge_id = ? AND person IN (?, '') AND operation_id IS NOT NULL AND undone = 0 ORDER BY seq DESC LIMIT ${LOOK_BACK}`,
  );
  const undone = db.prepare<[string, string], ChangeRow>(
    `SELECT id, operation_id, before, after FROM operation_changes
     WHERE merge_id = ? AND person IN (?, '') AND undone > 0 ORDER BY undone DESC LIMIT ${LOOK_BACK}`,
  );
  const counts = db.prepare<[string, string], { undoable: number; redoable: number }>(
    `SELECT coalesce(sum(undone = 0), 0) AS undoable, coalesce(sum(undone > 0), 0) AS redoable FROM operation_changes
     WHERE merge_id = ? AND person IN (?, '') AND operation_id IS NOT NULL`,
  );
  const markUndone = db.prepare<[string, string]>(
    `UPDATE operation_changes SET undone = 1 + (SELECT max(undone) FROM operation_changes WHERE merge_id = ?) WHERE id = ?`,
  );
  const markStanding = db.prepare<[string, string]>(
    `UPDATE operation_changes SET undone = 0, seq = 1 + (SELECT max(seq) FROM operation_changes WHERE merge_id = ?) WHERE id = ?`,
  );
  return {
    /** @param change null for undo and redo, which are noted so that the same request again is known */
    append: (
      id: string,
      mergeId: string,
      person: string,
      asked: string,
      change: Omit<LoggedChange, 'id'> | null,
    ): void => {
      const { operationId = null, before = null, after = null } = change ?? {};
      const text = (fields: Partial<OperationFields> | null): string | null => fields && JSON.stringify(fields);
      insert.run(id, mergeId, mergeId, person, asked, operationId, text(before), text(after));
    },
    /** What was asked for under a name. */
    find: (id: string) => asked.get(id),
    /** Changes of a person that stand, the last first. */
    standing: (mergeId: string, person: string) => standing.all(mergeId, person).map(toChange),
    /** Changes of a person that were taken back, the one taken back last first. */
    undone: (mergeId: string, person: string) => undone.all(mergeId, person).map(toChange),
    /** How many changes a person can take back and make again. */
    count: (mergeId: string, person: string) => counts.get(mergeId, person)!,
    markUndone: (mergeId: string, id: string) => markUndone.run(mergeId, id),
    /** Whoever takes back again takes this one first. */
    markStanding: (mergeId: string, id: string) => markStanding.run(mergeId, id),
  };
}
