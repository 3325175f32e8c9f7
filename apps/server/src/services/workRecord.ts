// How work stands, written down; on a disk too full even for that, as soon as it can be.
import type { News } from '@blendrak/contract';
import type { WorkRow } from '../storage';
import type { Services } from './context';

export interface WorkRecord {
  write(row: WorkRow, status: WorkRow['status'], error?: string | null): void;
  /** Writes what could not be written before. @throws while it still cannot be */
  catchUp(): void;
  /** Whether the table does not say yet how work stands. */
  isBehind(workId: string): boolean;
}

export function makeWorkRecord({ storage, events, log }: Services): WorkRecord {
  const owed = new Map<string, () => void>();
  return {
    write(row, status, error = null) {
      const write = (): void => void storage.work.setStatus(row.id, status, error);
      try {
        write();
        owed.delete(row.id);
      } catch (failure) {
        log.error({ err: failure, work: row.id, status }, 'the state of work could not be recorded');
        owed.set(row.id, write);
      }
      events.publish(newsOf(row));
    },
    catchUp() {
      for (const [id, write] of owed) {
        write();
        owed.delete(id);
      }
    },
    isBehind: (workId) => owed.has(workId),
  };
}

function newsOf({ job_id, card_id }: WorkRow): Omit<News, 'seq'> {
  return job_id !== null ? { topic: 'job', id: job_id } : { topic: 'card', id: card_id! };
}
