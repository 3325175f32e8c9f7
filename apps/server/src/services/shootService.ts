// Work `shoot`: the simulated camera delivers a set into a job, as if from a card, or a whole card.
import { rm } from 'node:fs/promises';
import { sep } from 'node:path';
import {
  cardOrderSchema,
  shootOrderSchema,
  type CardOrder,
  type JobSummary,
  type ShootOrder,
} from '@blendrak/contract';
import { checkOrder, kindOfSubject } from './camera';
import { newId, type Services } from './context';
import { picturesIn } from './intake/folders';
import { takeFolder } from './intake/takeFiles';
import { createJob } from './jobsService';
import { startProcess } from './make/processJob';
import { moveDurably } from '../storage';

/**
 * Creates a job and queues its photographs.
 * @throws InputError for settings no camera takes
 */
export function queueShoot(services: Services, order: ShootOrder): JobSummary {
  checkOrder(order);
  const { storage, events } = services;
  return storage.transaction(() => {
    const job = createJob(services, order.name, kindOfSubject(order.subject));
    queueWork(services, job.id, order);
    events.publish({ topic: 'job', id: job.id });
    return job;
  });
}

/** Queues several orders: the first is photographed first and also stands first in the list of jobs, newest on top. */
export function queueShoots(services: Services, orders: readonly ShootOrder[]): void {
  orders.forEach(checkOrder);
  services.storage.transaction(() => {
    const jobs = [...orders].reverse().map((o) => createJob(services, o.name, kindOfSubject(o.subject)));
    jobs.reverse().forEach((job, i) => queueWork(services, job.id, orders[i]!));
  });
}

/** Makes a card and queues the photographs on it; it is sorted once they are there. */
export function queueCard({ storage, events }: Services, name: string, order: CardOrder): void {
  order.sets.forEach(checkOrder);
  const id = newId();
  storage.transaction(() => {
    storage.cards.insert(id, name, new Date().toISOString());
    storage.work.insertForCard(newId(), id, 'shoot', order);
  });
  events.publish({ topic: 'card', id });
}

/** Work `shoot` of a card: its files are delivered and sorting is queued. */
export async function runShootCard(
  services: Services,
  cardId: string,
  payload: unknown,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const order = cardOrderSchema.parse(payload);
  const { storage, events, pool } = services;
  const folder = storage.folder.scratchFile('-card');
  try {
    await pool.shootCard(order, folder, onProgress, signal);
    const files = (await picturesIn(folder, null)).map((file) => ({ ...file, id: newId() }));
    const ids = files.map((f) => f.id);
    storage.expect(ids);
    for (const { id, path } of files) await moveDurably(path, storage.folder.original(id));
    storage.transaction(() => {
      for (const { id, name, sizeBytes } of files) {
        const source_path = storage.folder.original(id);
        storage.cards.addFile({ id, card_id: cardId, file_name: name, source_path, size_bytes: sizeBytes });
      }
      storage.work.insertForCard(newId(), cardId, 'sort', {});
      storage.keep(ids);
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  events.publish({ topic: 'card', id: cardId });
}

function queueWork({ storage }: Services, jobId: string, order: ShootOrder): void {
  storage.work.insert(newId(), jobId, 'shoot', order);
}

export async function runShoot(
  services: Services,
  jobId: string,
  payload: unknown,
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<void> {
  const order = shootOrderSchema.parse(payload);
  const { storage, pool } = services;
  const folder = storage.folder.delivered(jobId);
  // A killed run left some pictures in the job: they are taken out and delivered anew. What people put in stays.
  const delivered = storage.pictures.listByJob(jobId).filter((p) => p.source_path.startsWith(folder + sep));
  const ids = delivered.map((p) => p.id);
  storage.discard(ids, () => ids.forEach(storage.pictures.remove));
  await rm(folder, { recursive: true, force: true });
  const card = await pool.shoot(order, folder, onProgress, signal);
  await takeFolder(services, jobId, card.folder, card.merge ?? undefined, null);
  if (order.mergeElsewhere) startProcess(services, jobId);
  onProgress(1, 'delivered');
}
