// Long work from the `work` table: started in order, resumed after a kill, cancelled on request.
import { processSchema } from '@blendrak/contract';
import { z } from 'zod';
import type { WorkRow } from '../storage';
import { type Services } from './context';
import { RequestError } from '../shared/requestError';
import { runIntake } from './intakeService';
import { runProcess } from './processService';
import { runShoot } from './shootService';
import { runSort } from './sort';
import type { News } from './events';

export interface WorkQueue {
  /** Looks for work; call after queuing some. */
  wake(): void;
  cancel(workId: string): void;
  /** Stops taking work and interrupts what runs; it is taken up at the next start. */
  stop(): Promise<void>;
}

const intakePayload = z.strictObject({ pictureId: z.string() });

export function makeWorkQueue(services: Services): WorkQueue {
  const { storage, events, log, pool } = services;
  const running = new Map<string, { row: WorkRow; abort: AbortController; done: Promise<void> }>();
  let stopped = false;
  storage.work.requeueInterrupted();

  const mayStart = (row: WorkRow): boolean => {
    const kinds = [...running.values()].map((r) => r.row.kind);
    if (row.kind === 'intake') return kinds.filter((k) => k === 'intake').length < pool.threads;
    // Files of the same job that are still being read come first; one big piece of work at a time.
    if (row.kind === 'process' && storage.work.countActive(jobOf(row), 'intake') > 0) return false;
    // The camera can wait: a set that somebody wants to look at is worked on first.
    if (row.kind === 'shoot' && storage.work.queued().some((w) => w.kind !== 'shoot')) return false;
    if (row.kind === 'shoot' && kinds.includes('process')) return false;
    return !kinds.includes(row.kind);
  };

  const start = (row: WorkRow): void => {
    const abort = new AbortController();
    storage.work.setStatus(row.id, 'running');
    events.publish(newsOf(row));
    let last = 0;
    const onProgress = (share: number, message: string): void => {
      const now = Date.now();
      if (now - last < 150 && share < 1) return;
      last = now;
      storage.work.setProgress(row.id, share, message);
      events.publish(newsOf(row));
    };
    const done = perform(row, onProgress, abort.signal)
      .then(() => storage.work.setStatus(row.id, 'done'))
      .catch((error: unknown) => {
        if (stopped) return;
        if (abort.signal.aborted) {
          storage.work.setStatus(row.id, 'cancelled');
          return;
        }
        const text = error instanceof Error ? error.message : String(error);
        log.warn({ work: row.id, kind: row.kind, error: text }, 'work failed');
        storage.work.setStatus(row.id, 'failed', text);
      })
      .finally(() => {
        running.delete(row.id);
        if (stopped) return;
        events.publish(newsOf(row));
        wake();
      }) as Promise<void>;
    running.set(row.id, { row, abort, done });
  };

  const perform = (
    row: WorkRow,
    onProgress: (share: number, message: string) => void,
    signal: AbortSignal,
  ): Promise<void> => {
    const payload: unknown = JSON.parse(row.payload);
    switch (row.kind) {
      case 'intake':
        return runIntake(services, intakePayload.parse(payload).pictureId, signal);
      case 'process':
        return runProcess(services, jobOf(row), processSchema.parse(payload), onProgress, signal);
      case 'shoot':
        return runShoot(services, jobOf(row), payload, onProgress, signal);
      case 'sort':
        return runSort(services, row.card_id!, onProgress, signal);
    }
  };

  const wake = (): void => {
    if (stopped) return;
    for (const row of storage.work.queued()) {
      if (!running.has(row.id) && mayStart(row)) start(row);
    }
  };

  return {
    wake,
    cancel(workId) {
      const row = storage.work.find(workId);
      if (!row) throw new RequestError(404, `There is no work ${workId}.`);
      const active = running.get(workId);
      if (active) active.abort.abort();
      else if (row.status === 'queued') storage.work.setStatus(workId, 'cancelled');
      events.publish(newsOf(row));
    },
    async stop() {
      stopped = true;
      for (const r of running.values()) r.abort.abort();
      await Promise.allSettled([...running.values()].map((r) => r.done));
    },
  };
}

function newsOf({ job_id, card_id }: WorkRow): News {
  return job_id !== null ? { jobId: job_id } : { cardId: card_id! };
}

/** The job of work that always has one. */
function jobOf({ id, job_id }: WorkRow): string {
  if (job_id === null) throw new Error(`work ${id} belongs to no job`);
  return job_id;
}
