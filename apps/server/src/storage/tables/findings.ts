// Table `findings`.
import { findingSchema, type Decision, type Finding } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface FindingRow {
  readonly id: string;
  readonly merge_id: string;
  readonly seq: number;
  readonly body: string;
  readonly decision: Decision;
  readonly reason: string;
  readonly recheck: string;
}

const bodySchema = findingSchema.omit({ decision: true, reason: true, recheck: true, id: true, mergeId: true });

function toFinding(row: FindingRow): Finding {
  return {
    ...bodySchema.parse(JSON.parse(row.body)),
    id: row.id,
    mergeId: row.merge_id,
    decision: row.decision,
    reason: row.reason,
    recheck: row.recheck,
  };
}

export function findingsTable(db: Db) {
  const insert = db.prepare<[string, string, number, string]>(
    'INSERT INTO findings (id, merge_id, seq, body) VALUES (?, ?, ?, ?)',
  );
  const byMerge = db.prepare<[string], FindingRow>('SELECT * FROM findings WHERE merge_id = ? ORDER BY seq');
  const one = db.prepare<[string], FindingRow>('SELECT * FROM findings WHERE id = ?');
  const decide = db.prepare<[string, string, string]>('UPDATE findings SET decision = ?, reason = ? WHERE id = ?');
  const recheck = db.prepare<[string, string]>('UPDATE findings SET recheck = ? WHERE id = ?');
  const counts = db.prepare<[string], { all_count: number; open_count: number }>(
    "SELECT count(*) AS all_count, coalesce(sum(decision = 'open'), 0) AS open_count FROM findings WHERE merge_id = ?",
  );
  return {
    insert: (finding: Finding, seq: number) => {
      const { id, mergeId, decision: _d, reason: _r, recheck: _c, ...body } = finding;
      return insert.run(id, mergeId, seq, JSON.stringify(body));
    },
    listByMerge: (mergeId: string) => byMerge.all(mergeId).map(toFinding),
    find: (id: string) => {
      const row = one.get(id);
      return row ? toFinding(row) : undefined;
    },
    decide: (id: string, decision: Decision, reason: string) => decide.run(decision, reason, id),
    noteRecheck: (id: string, text: string) => recheck.run(text, id),
    count: (mergeId: string) => counts.get(mergeId)!,
  };
}
