// Work `shoot`: the simulated camera delivers a set into a job, as if from a card.
import { rm } from 'node:fs/promises';
import { sep } from 'node:path';
import { shootOrderSchema, type JobSummary, type ShootOrder } from '@blendrak/contract';
import { checkOrder, kindOfSubject } from './camera';
import { newId, type Services } from './context';
import { takeFolder } from './intake/takeFiles';
import { createJob } from './jobsService';
import { startProcess } from './make/processJob';

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
