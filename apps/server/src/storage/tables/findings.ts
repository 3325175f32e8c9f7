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
  /** The merge's revision of findings at which it last changed. */
  readonly revision: number;
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
  const since = db.prepare<[string, number], FindingRow>(
    'SELECT * FROM findings WHERE merge_id = ? AND revision > ? ORDER BY seq',
  );
  const decide = db.prepare<[string, string, number, string]>(
    'UPDATE findings SET decision = ?, reason = ?, revision = ? WHERE id = ?',
  );
  const recheck = db.prepare<[string, number, string]>('UPDATE findings SET recheck = ?, revision = ? WHERE id = ?');
  const counts = db.prepare<[string], { all_count: number; open_count: number }>(
    "SELECT count(*) AS all_count, coalesce(sum(decision = 'open'), 0) AS open_count FROM findings WHERE merge_id = ?",
  );
  const add = db.prepare<[string, string, string, string, number]>(
    `INSERT INTO findings (id, merge_id, seq, body, revision)
     VALUES (?, ?, (SELECT coalesce(max(seq), -1) + 1 FROM findings WHERE merge_id = ?), ?, ?)`,
  );
  return {
    /** Adds one after all others, at a revision. */
    add: (finding: Finding, revision: number) => {
      const { id, mergeId, decision: _d, reason: _r, recheck: _c, ...body } = finding;
      return add.run(id, mergeId, mergeId, JSON.stringify(body), revision);
    },
    insert: (finding: Finding, seq: number) => {
      const { id, mergeId, decision: _d, reason: _r, recheck: _c, ...body } = finding;
      return insert.run(id, mergeId, seq, JSON.stringify(body));
    },
    listByMerge: (mergeId: string) => byMerge.all(mergeId).map(toFinding),
    find: (id: string) => {
      const row = one.get(id);
      return row ? toFinding(row) : undefined;
    },
    /** Findings that changed after a revision; −1 for all. */
    changedSince: (mergeId: string, revision: number) => since.all(mergeId, revision).map(toFinding),
    decide: (id: string, decision: Decision, reason: string, revision: number) =>
      decide.run(decision, reason, revision, id),
    noteRecheck: (id: string, text: string, revision: number) => recheck.run(text, revision, id),
    count: (mergeId: string) => counts.get(mergeId)!,
  };
}
