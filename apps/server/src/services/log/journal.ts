// The journal: written by itself wherever something is done on a job that is worth remembering.
import type { JournalEntry, JournalKind, JournalQuery } from '@blendrak/contract';
import type { Services } from '../context';

/** What is noted; the services that write need nothing else. */
type Writing = Pick<Services, 'storage'>;

/**
 * Notes what was done on a job. It is kept when the job is removed: it names the job, and does not refer to it.
 * @param tookS time that work took, s
 */
export function note({ storage }: Writing, jobId: string, kind: JournalKind, words: string, tookS?: number): void {
  // What is done on exercises is practice, not work.
  if (storage.exercises.has(jobId)) return;
  const jobName = storage.jobs.find(jobId)?.name ?? 'a job that is gone';
  storage.journal.add({ jobId, jobName, at: new Date().toISOString(), kind, words, tookS: tookS ?? null });
}

/** Entries of the journal, the newest first. */
export function searchJournal({ storage }: Writing, query: JournalQuery): JournalEntry[] {
  return storage.journal.search(query);
}

const COLUMNS = ['at', 'jobName', 'kind', 'words', 'tookS'] as const;

/** The same as a table for other programs: commas between, quotes where they are needed (RFC 4180). */
export function journalCsv(entries: readonly JournalEntry[]): string {
  const line = (cells: readonly (string | number | null)[]): string => cells.map(quoted).join(',');
  return [line(COLUMNS), ...entries.map((entry) => line(COLUMNS.map((column) => entry[column]))), ''].join('\r\n');
}

function quoted(value: string | number | null): string {
  const text = value === null ? '' : String(value);
  // A cell that begins like a formula is one to a spreadsheet: it is kept from that.
  const safe = /^[=+\-@]/.test(text) && Number.isNaN(Number(text)) ? `'${text}` : text;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
