// Table `proposals`: repairs that were worked out, the last one of each finding.
import { proposalSchema, type Proposal } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface ProposalRow {
  readonly id: string;
  readonly merge_id: string;
  readonly finding_id: string;
  readonly work_id: string;
  readonly body: string;
  readonly refused: number;
  readonly operation_id: string | null;
}

/** With whether the operation that it became still is there. */
type JoinedRow = ProposalRow & { readonly is_live: number };

const bodySchema = proposalSchema.omit({ id: true, mergeId: true, findingId: true, state: true });

function toProposal(row: JoinedRow): Proposal {
  const { id, merge_id: mergeId, finding_id: findingId, refused, is_live: isLive } = row;
  const state = isLive ? 'kept' : refused ? 'refused' : 'waiting';
  return { ...bodySchema.parse(JSON.parse(row.body)), id, mergeId, findingId, state };
}

const JOINED = `SELECT p.*, coalesce(o.live, 0) AS is_live FROM proposals p LEFT JOIN operations o ON o.id = p.operation_id`;

export function proposalsTable(db: Db) {
  const put = db.prepare<[string, string, string, string, string]>(
    `INSERT INTO proposals (id, merge_id, finding_id, work_id, body) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (finding_id) DO UPDATE SET id = excluded.id, work_id = excluded.work_id, body = excluded.body, refused = 0,
     operation_id = NULL`,
  );
  const byMerge = db.prepare<[string], JoinedRow>(`${JOINED} WHERE p.merge_id = ? ORDER BY p.rowid`);
  const byWork = db.prepare<[string], JoinedRow>(`${JOINED} WHERE p.work_id = ? ORDER BY p.rowid`);
  const one = db.prepare<[string], JoinedRow>(`${JOINED} WHERE p.id = ?`);
  const keep = db.prepare<[string, string]>('UPDATE proposals SET operation_id = ?, refused = 0 WHERE id = ?');
  const refuse = db.prepare<[string]>('UPDATE proposals SET refused = 1 WHERE id = ?');
  return {
    /** Takes the place of what was proposed for the finding before. */
    put({ id, mergeId, findingId, state: _derived, ...body }: Proposal, workId: string) {
      put.run(id, mergeId, findingId, workId, JSON.stringify(body));
    },
    listByMerge: (mergeId: string): Proposal[] => byMerge.all(mergeId).map(toProposal),
    listByWork: (workId: string): Proposal[] => byWork.all(workId).map(toProposal),
    find(id: string): Proposal | undefined {
      const row = one.get(id);
      return row && toProposal(row);
    },
    /** Notes the operation that a proposal became. */
    keep: (id: string, operationId: string) => keep.run(operationId, id),
    refuse: (id: string) => refuse.run(id),
  };
}
