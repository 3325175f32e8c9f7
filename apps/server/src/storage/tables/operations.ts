// Table `operations`: what a repair is made of. Nothing is ever deleted from it: what is taken back only ceases to be live.
import {
  newOperationSchema,
  operationMaskSchema,
  type NewOperation,
  type Operation,
  type OperationState,
} from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface OperationRow {
  readonly id: string;
  readonly merge_id: string;
  readonly body: string;
  readonly position: number;
  readonly live: number;
  readonly enabled: number;
  readonly name: string;
  readonly variant: string;
  /** JSON; null for masks as they were made. */
  readonly mask: string | null;
  readonly revision: number;
}

/** What can change of an operation, whether it is there at all included. */
export type OperationFields = OperationState & { readonly live: boolean };

function toOperation({ id, body, position, enabled, name, variant, mask, revision }: OperationRow): Operation {
  const made = newOperationSchema.parse(JSON.parse(body));
  const changed = mask === null ? null : operationMaskSchema.parse(JSON.parse(mask));
  return { ...made, id, order: position, enabled: enabled === 1, name, variant, mask: changed, revision };
}

export function operationsTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, number]>(
    `INSERT INTO operations (id, merge_id, body, position, revision)
     VALUES (?, ?, ?, (SELECT coalesce(max(position), 0) + 1 FROM operations WHERE merge_id = ?), ?)`,
  );
  const since = db.prepare<[string, number], OperationRow>(
    'SELECT * FROM operations WHERE merge_id = ? AND revision > ? ORDER BY position, rowid',
  );
  const one = db.prepare<[string], OperationRow>('SELECT * FROM operations WHERE id = ?');
  const update = db.prepare<[OperationRow]>(
    `UPDATE operations SET live = @live, enabled = @enabled, position = @position, name = @name, variant = @variant,
     mask = @mask, revision = @revision WHERE id = @id`,
  );
  const changedSince = (mergeId: string, revision: number): { changed: Operation[]; gone: string[] } => {
    const rows = since.all(mergeId, revision);
    return {
      changed: rows.filter((r) => r.live === 1).map(toOperation),
      gone: rows.filter((r) => r.live === 0).map((r) => r.id),
    };
  };
  return {
    /** Adds an operation that acts after all others. */
    append: (mergeId: string, id: string, operation: NewOperation, revision: number) =>
      insert.run(id, mergeId, JSON.stringify(operation), mergeId, revision),
    /** Operations that changed after a revision, in the order in which they act; −1 for all. */
    changedSince,
    /** All that are there, in the order in which they act. */
    listByMerge: (mergeId: string) => changedSince(mergeId, -1).changed,
    /** An operation of a merge, also one that was taken back. */
    find: (id: string): { mergeId: string; operation: Operation; fields: OperationFields } | undefined => {
      const row = one.get(id);
      if (!row) return undefined;
      const operation = toOperation(row);
      const { enabled, order, name, variant, mask } = operation;
      return {
        mergeId: row.merge_id,
        operation,
        fields: { live: row.live === 1, enabled, order, name, variant, mask },
      };
    },
    /** Changes some fields of an operation. */
    patch: (id: string, fields: Partial<OperationFields>, revision: number) => {
      const row = one.get(id)!;
      const { live = row.live === 1, enabled = row.enabled === 1 } = fields;
      const { order: position = row.position, name = row.name, variant = row.variant } = fields;
      const mask = fields.mask === undefined ? row.mask : fields.mask && JSON.stringify(fields.mask);
      update.run({ ...row, live: Number(live), enabled: Number(enabled), position, name, variant, mask, revision });
    },
  };
}
