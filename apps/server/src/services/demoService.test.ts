// The demo: one set of each kind, the quick one first, queued once.
import { join } from 'node:path';
import { cardOrderSchema, shootOrderSchema } from '@blendrak/contract';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { kindOfSubject } from './camera';
import { DEMO_CARD, FIRST_DEMO, queueDemo } from './demoService';

const { path, clean } = temporaryFolder();
const services = localServices(join(path, 'data'));
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

it('queues a job of every kind and the nested one, the first of them small and on top', () => {
  queueDemo(services);
  const jobs = services.storage.jobs.list();
  expect(new Set(jobs.map((j) => j.kind))).toEqual(new Set(['focus-stack', 'panorama', 'bracket']));
  expect(jobs[0]!.name).toBe(FIRST_DEMO);
  const orders = services.storage.work
    .queued()
    .filter((w) => w.job_id !== null)
    .map((w) => ({ job: w.job_id, ...shootOrderSchema.parse(JSON.parse(w.payload)) }));
  expect(orders[0]!.job).toBe(jobs[0]!.id);
  expect(orders.some((o) => o.subject === 'tower-nested')).toBe(true);
  expect(orders[0]!.longSidePx).toBeLessThan(Math.max(...orders.map((o) => o.longSidePx)) / 2);
});

it('queues a card of several sets of every kind, a hand after each but the last', () => {
  const [card] = services.storage.cards.list();
  expect(card!.name).toBe(DEMO_CARD);
  const work = services.storage.work.queued().filter((w) => w.card_id === card!.id);
  expect(work.map((w) => w.kind)).toEqual(['shoot']);
  const { sets } = cardOrderSchema.parse(JSON.parse(work[0]!.payload));
  expect(sets.map((s) => s.separator)).toEqual([...sets.slice(1).map(() => true), false]);
  expect(new Set(sets.map((s) => kindOfSubject(s.subject))).size).toBe(3);
});

it('does not come again once a data folder has jobs', () => {
  const before = services.storage.jobs.list().length;
  queueDemo(services);
  expect(services.storage.jobs.list()).toHaveLength(before);
});
