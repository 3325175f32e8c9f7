// Table `plans`.
import { planSchema, type Plan, type PlanSheetRecord } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface PlanRow {
  readonly id: string;
  readonly name: string;
  readonly sheet: string;
  readonly created_at: string;
  readonly changed_at: string;
}

function toPlan({ id, name, sheet, created_at, changed_at }: PlanRow): Plan {
  return planSchema.parse({ id, name, sheet: JSON.parse(sheet), createdAt: created_at, changedAt: changed_at });
}

export function plansTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, string]>(
    'INSERT INTO plans (id, name, sheet, created_at, changed_at) VALUES (?, ?, ?, ?, ?)',
  );
  const one = db.prepare<[string], PlanRow>('SELECT * FROM plans WHERE id = ?');
  const all = db.prepare<[], PlanRow>('SELECT * FROM plans ORDER BY changed_at DESC, rowid DESC');
  const change = db.prepare<[string, string, string, string]>(
    'UPDATE plans SET name = ?, sheet = ?, changed_at = ? WHERE id = ?',
  );
  const remove = db.prepare<[string]>('DELETE FROM plans WHERE id = ?');
  return {
    insert: (id: string, name: string, sheet: PlanSheetRecord, now: string) =>
      insert.run(id, name, JSON.stringify(sheet), now, now),
    find: (id: string): Plan | undefined => {
      const row = one.get(id);
      return row && toPlan(row);
    },
    list: () => all.all().map(toPlan),
    change: (id: string, name: string, sheet: PlanSheetRecord, now: string) =>
      change.run(name, JSON.stringify(sheet), now, id).changes > 0,
    remove: (id: string) => remove.run(id).changes > 0,
  };
}
