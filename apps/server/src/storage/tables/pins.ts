// Table `pins`: segments that were measured along.
import { pinSchema, type Pin } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface PinRow {
  readonly id: string;
  readonly merge_id: string;
  readonly number: number;
  readonly body: string;
}

const bodySchema = pinSchema.omit({ id: true, mergeId: true, number: true });

function toPin({ id, merge_id, number, body }: PinRow): Pin {
  return { ...bodySchema.parse(JSON.parse(body)), id, mergeId: merge_id, number };
}

export function pinsTable(db: Db) {
  const insert = db.prepare<[string, string, number, string]>(
    'INSERT INTO pins (id, merge_id, number, body) VALUES (?, ?, ?, ?)',
  );
  const nextNumber = db.prepare<[string], { last_pin: number }>(
    'UPDATE merges SET last_pin = last_pin + 1 WHERE id = ? RETURNING last_pin',
  );
  const byMerge = db.prepare<[string], PinRow>('SELECT * FROM pins WHERE merge_id = ? ORDER BY number');
  const one = db.prepare<[string], PinRow>('SELECT * FROM pins WHERE id = ?');
  const remove = db.prepare<[string]>('DELETE FROM pins WHERE id = ?');
  return {
    /** Adds a pin under the merge's next number. */
    insert(pin: Omit<Pin, 'number'>): Pin {
      const { id, mergeId, ...body } = pin;
      const { last_pin: number } = nextNumber.get(mergeId)!;
      insert.run(id, mergeId, number, JSON.stringify(body));
      return { ...pin, number };
    },
    listByMerge: (mergeId: string): Pin[] => byMerge.all(mergeId).map(toPin),
    find(id: string): Pin | undefined {
      const row = one.get(id);
      return row && toPin(row);
    },
    remove: (id: string) => remove.run(id),
  };
}
