// Long work from the `work` table: started in order, resumed after a kill, cancelled on request, paused while the disk is full.
import { processSchema, type FirstLook } from '@blendrak/contract';
import { z } from 'zod';
import type { WorkRow } from '../storage';
import { isFull, KEEP_FREE_BYTES, NoRoomError } from '../shared/noRoom';
import { RequestError } from '../shared/requestError';
import { type Services } from './context';
import { deliverPayload, runDelivery } from './deliver/deliverMerge';
import { exportPayload, runExport } from './deliver/exportPicture';
import { runIntake } from './intake/takeFiles';
import { runProcess, type Tell } from './make/processJob';
import { mendPayload, runMend } from './mend/mendMerge';
import type { OperationsService } from './mend/operations';
import { runSource, sourcePayload } from './mend/sources';
import { runShoot, runShootCard } from './shootService';
import { runSort } from './sort';
import { makeWorkRecord } from './workRecord';

export interface WorkQueue {
  /** Looks for work; call after queuing some. */
  wake(): void;
  cancel(workId: string): void;
  /** Cancels all work of a job and waits until none of it runs any more. */
  cancelJob(jobId: string): Promise<void>;
  /** Stops taking work and interrupts what runs; it is taken up at the next start. */
  stop(): Promise<void>;
}

const intakePayload = z.strictObject({ pictureId: z.string() });
/** How often a full disk is looked at again, ms. */
const ROOM_EVERY_MS = 3000;

const WAITING: ReadonlySet<WorkRow['status']> = new Set(['queued', 'paused'] as const);

interface Running {
  readonly row: WorkRow;
  readonly abort: AbortController;
  readonly done: Promise<void>;
}

/** @param repair takes what work changes of repairs */
export function makeWorkQueue(services: Services, repair: OperationsService): WorkQueue {
  const { storage, events, log } = services;
  const running = new Map<string, Running>();
  /** Room that paused work waits for; bytes. */
  const waiting = new Map<string, number>();
  const states = makeWorkRecord(services);
  let stopped = false;
  storage.work.requeueInterrupted();

  const start = (row: WorkRow): void => {
    const abort = new AbortController();
    states.write(row, 'running');
    let last = 0;
    const publish = (): void =>
      events.publish({ topic: 'work', id: row.job_id ?? row.card_id!, work: storage.work.atWork(row) });
    const onProgress = (share: number, message: string): void => {
      const now = Date.now();
      if (now - last < 250 && share < 1) return;
      last = now;
      storage.work.setProgress(row.id, { progress: share, message });
      publish();
    };
    const onFirst = (first: FirstLook): void => {
      storage.work.setProgress(row.id, { first });
      publish();
    };
    const done = perform(services, repair, row, { onProgress, onFirst }, abort.signal)
      .then(() => states.write(row, 'done'))
      .catch((error: unknown) => {
        if (!stopped) end(row, error, abort.signal.aborted);
      })
      .finally(() => {
        running.delete(row.id);
        if (!stopped) wake();
      });
    running.set(row.id, { row, abort, done });
  };

  const end = (row: WorkRow, error: unknown, cancelled: boolean): void => {
    if (cancelled) {
      states.write(row, 'cancelled');
      return;
    }
    const text = error instanceof Error ? error.message : String(error);
    if (isFull(error)) {
      const full = asNoRoom(error, storage.folder.freeBytes());
      waiting.set(row.id, full.neededBytes);
      log.warn({ work: row.id, kind: row.kind, error: text }, 'work paused: the disk is full');
      states.write(row, 'paused', `${full.message} It goes on by itself then.`);
      return;
    }
    log.warn({ work: row.id, kind: row.kind, error: text }, 'work failed');
    states.write(row, 'failed', text);
  };

  const wake = (): void => {
    if (stopped) return;
    for (const row of storage.work.queued()) {
      if (
        !running.has(row.id) &&
        !states.isBehind(row.id) &&
        mayStart(
          services,
          row,
          [...running.values()].map((r) => r.row.kind),
        )
      )
        start(row);
    }
  };

  /** Takes paused work up again once there is room for it. */
  const lookForRoom = (): void => {
    if (stopped) return;
    try {
      states.catchUp();
      storage.reserve.refill();
      const free = storage.folder.freeBytes();
      const ready = storage.work.paused().filter((row) => free >= (waiting.get(row.id) ?? KEEP_FREE_BYTES));
      for (const row of ready) {
        waiting.delete(row.id);
        states.write(row, 'queued');
      }
      if (ready.length > 0) wake();
    } catch (error) {
      log.warn({ err: error }, 'there is no room yet');
    }
  };
  const timer = setInterval(lookForRoom, ROOM_EVERY_MS);
  timer.unref();

  const cancelRow = (row: WorkRow): void => {
    const active = running.get(row.id);
    if (active) active.abort.abort();
    else if (WAITING.has(row.status)) states.write(row, 'cancelled');
  };

  return {
    wake,
    cancel(workId) {
      const row = storage.work.find(workId);
      if (!row) throw new RequestError(404, `There is no work ${workId}.`);
      cancelRow(row);
    },
    async cancelJob(jobId) {
      storage.work.unended(jobId).forEach(cancelRow);
      const ending = [...running.values()].filter(({ row }) => row.job_id === jobId);
      await Promise.allSettled(ending.map((r) => r.done));
    },
    async stop() {
      stopped = true;
      clearInterval(timer);
      for (const r of running.values()) r.abort.abort();
      await Promise.allSettled([...running.values()].map((r) => r.done));
    },
  };
}

/** Whether work may begin beside what runs. */
function mayStart({ storage, pool }: Services, row: WorkRow, kinds: readonly WorkRow['kind'][]): boolean {
  if (row.kind === 'intake') return kinds.filter((k) => k === 'intake').length < pool.threads;
  // Files of the same job that are still being read come first; one big piece of work at a time.
  if (row.kind === 'process' && storage.work.countActive(jobOf(row), 'intake') > 0) return false;
  // The camera can wait: a set that somebody wants to look at is worked on first.
  if (row.kind === 'shoot' && storage.work.queued().some((w) => w.kind !== 'shoot')) return false;
  if (row.kind === 'shoot' && kinds.includes('process')) return false;
  return !kinds.includes(row.kind);
}

async function perform(
  services: Services,
  repair: OperationsService,
  row: WorkRow,
  tell: Tell,
  signal: AbortSignal,
): Promise<void> {
  const { onProgress } = tell;
  const payload: unknown = JSON.parse(row.payload);
  switch (row.kind) {
    case 'intake':
      return runIntake(services, intakePayload.parse(payload).pictureId, signal);
    case 'process':
      return runProcess(services, repair, jobOf(row), processSchema.parse(payload), tell, signal);
    case 'shoot':
      return row.card_id !== null
        ? runShootCard(services, row.card_id, payload, onProgress, signal)
        : runShoot(services, jobOf(row), payload, onProgress, signal);
    case 'export':
      return runExport(services, row.id, exportPayload.parse(payload), onProgress, signal);
    case 'deliver':
      return runDelivery(services, row.id, deliverPayload.parse(payload), onProgress, signal);
    case 'mend':
      return runMend(services, repair, row.id, mendPayload.parse(payload), onProgress, signal);
    case 'source':
      return runSource(services, sourcePayload.parse(payload), onProgress, signal);
    case 'sort':
      return runSort(services, row.card_id!, onProgress, signal);
  }
}

/** What a full disk lacks, also when only the system said so. */
function asNoRoom(error: unknown, freeBytes: number): NoRoomError {
  return error instanceof NoRoomError ? error : new NoRoomError('this work', KEEP_FREE_BYTES, freeBytes);
}

/** The job of work that always has one. */
function jobOf({ id, job_id }: WorkRow): string {
  if (job_id === null) throw new Error(`work ${id} belongs to no job`);
  return job_id;
}
