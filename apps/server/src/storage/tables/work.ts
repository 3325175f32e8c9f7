// Table `work`: long work that survives a restart.
import type { FirstLook, Work } from '@blendrak/contract';
import type { Db } from '../openDatabase';

export interface WorkRow {
  readonly id: string;
  /** Of a job, or of a card. */
  readonly job_id: string | null;
  readonly card_id: string | null;
  readonly kind: Work['kind'];
  readonly payload: string;
  readonly status: Work['status'];
  readonly progress: number;
  readonly message: string;
  readonly error: string | null;
  readonly seq: number;
  /** While it runs: what was seen of a merge so far. Not in the table. */
  readonly first?: FirstLook;
}

interface Progress {
  readonly progress?: number;
  readonly message?: string;
  readonly first?: FirstLook;
}

export function toWork(row: WorkRow): Work {
  const { id, kind, status, progress, message, error, first } = row;
  return { id, jobId: row.job_id, kind, status, progress, message, error, ...(first && { first }) };
}

export function workTable(db: Db) {
  const insert = db.prepare<[string, string | null, string | null, string, string]>(
    "INSERT INTO work (id, job_id, card_id, kind, payload, status, seq) VALUES (?, ?, ?, ?, ?, 'queued', (SELECT coalesce(max(seq), 0) + 1 FROM work))",
  );
  const byCard = db.prepare<[string], WorkRow>('SELECT * FROM work WHERE card_id = ? ORDER BY seq');
  const one = db.prepare<[string], WorkRow>('SELECT * FROM work WHERE id = ?');
  // Progress is news, not a record: it is kept in memory, so that no disk is written several times a second.
  const running = new Map<string, Progress>();
  const withProgress = (row: WorkRow): WorkRow => (row.status === 'running' ? { ...row, ...running.get(row.id) } : row);
  const queued = db.prepare<[], WorkRow>("SELECT * FROM work WHERE status = 'queued' ORDER BY seq");
  const byJob = db.prepare<[string], WorkRow>('SELECT * FROM work WHERE job_id = ? ORDER BY seq');
  const active = db.prepare<[string, string], { n: number }>(
    "SELECT count(*) AS n FROM work WHERE job_id = ? AND kind = ? AND status IN ('queued', 'running', 'paused')",
  );
  const status = db.prepare<[string, string | null, string]>('UPDATE work SET status = ?, error = ? WHERE id = ?');
  const say = db.prepare<[string, string]>('UPDATE work SET message = ? WHERE id = ?');
  const unended = db.prepare<[string], WorkRow>(
    "SELECT * FROM work WHERE job_id = ? AND status IN ('queued', 'running', 'paused')",
  );
  const paused = db.prepare<[], WorkRow>("SELECT * FROM work WHERE status = 'paused'");
  const ofKind = db.prepare<[string], { id: string }>('SELECT id FROM work WHERE kind = ?');
  const remove = db.prepare<[string]>('DELETE FROM work WHERE id = ?');
  // A killed run's work starts again, and what waited for room sees whether there is some now.
  const requeue = db.prepare("UPDATE work SET status = 'queued', error = NULL WHERE status IN ('running', 'paused')");
  return {
    insert: (id: string, jobId: string, kind: Work['kind'], payload: unknown) =>
      insert.run(id, jobId, null, kind, JSON.stringify(payload)),
    insertForCard: (id: string, cardId: string, kind: Work['kind'], payload: unknown) =>
      insert.run(id, null, cardId, kind, JSON.stringify(payload)),
    listByCard: (cardId: string) => byCard.all(cardId).map(withProgress).map(toWork),
    find: (id: string) => one.get(id),
    queued: () => queued.all(),
    paused: () => paused.all(),
    listByJob: (jobId: string) => byJob.all(jobId).map(withProgress).map(toWork),
    /** Work of a job that is not over. */
    unended: (jobId: string) => unended.all(jobId),
    countActive: (jobId: string, kind: Work['kind']) => active.get(jobId, kind)!.n,
    rowsOf: (jobId: string, kind: Work['kind']) => byJob.all(jobId).filter((row) => row.kind === kind),
    /** All work of a kind, of all jobs. */
    idsOf: (kind: Work['kind']) => ofKind.all(kind).map((row) => row.id),
    remove: (id: string) => remove.run(id),
    setStatus: (id: string, value: Work['status'], error: string | null = null) => {
      status.run(value, error, id);
      if (value !== 'running') running.delete(id);
    },
    /** Adds to what is known of running work; what is not named stays. */
    setProgress: (id: string, news: Progress) => running.set(id, { ...running.get(id), ...news }),
    /** Work that runs, as it stands. */
    atWork: (row: WorkRow) => toWork(withProgress({ ...row, status: 'running' })),
    /** What stays to be said of work once it is done. */
    say: (id: string, message: string) => say.run(message, id),
    /** Work that ran when the server was killed starts again. */
    requeueInterrupted: () => requeue.run(),
  };
}
