// Table `journal`: what was done on jobs; it is only added to.
import { journalKindSchema, type JournalEntry, type JournalQuery } from '@blendrak/contract';
import type { Db } from '../openDatabase';

interface JournalRow {
  readonly id: number;
  readonly job_id: string;
  readonly job_name: string;
  readonly at: string;
  readonly kind: string;
  readonly words: string;
  readonly took_s: number | null;
}

function toEntry({ id, job_id, job_name, at, kind, words, took_s }: JournalRow): JournalEntry {
  return { id, jobId: job_id, jobName: job_name, at, kind: journalKindSchema.parse(kind), words, tookS: took_s };
}

export function journalTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, string, number | null]>(
    'INSERT INTO journal (job_id, job_name, at, kind, words, took_s) VALUES (?, ?, ?, ?, ?, ?)',
  );
  const search = db.prepare<
    [{ text: string; jobId: string | null; kind: string | null; before: number; limit: number }],
    JournalRow
  >(
    `SELECT * FROM journal
     WHERE id < @before AND (@jobId IS NULL OR job_id = @jobId) AND (@kind IS NULL OR kind = @kind)
       AND (@text = '' OR instr(lower(words), lower(@text)) > 0 OR instr(lower(job_name), lower(@text)) > 0)
     ORDER BY id DESC LIMIT @limit`,
  );
  return {
    add: ({ jobId, jobName, at, kind, words, tookS }: Omit<JournalEntry, 'id'>) =>
      insert.run(jobId, jobName, at, kind, words, tookS),
    /** The newest first. */
    search: ({ text, jobId, kind, before, limit }: JournalQuery): JournalEntry[] =>
      search
        .all({ text, jobId: jobId ?? null, kind: kind ?? null, before: before ?? Number.MAX_SAFE_INTEGER, limit })
        .map(toEntry),
  };
}
