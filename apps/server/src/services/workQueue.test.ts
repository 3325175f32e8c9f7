// Long work: its order, cancelling, and what a stop leaves for the next start.
import { copyFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { newId, type Services } from './context';
import { takeUpload } from './intake/takeFiles';
import { createJob } from './jobsService';
import { startProcess } from './make/processJob';
import { makeOperationsService } from './mend/operations';
import { makeWorkQueue, type WorkQueue } from './workQueue';

const { path: folder, clean } = temporaryFolder();
let services: Services;
let queue: WorkQueue;
let jobId: string;
let picture: string;

beforeAll(async () => {
  mkdirSync(folder, { recursive: true });
  picture = join(folder, 'frame.png');
  await sharp({
    create: {
      width: 1600,
      height: 1200,
      channels: 3,
      background: '#777',
      noise: { type: 'gaussian', mean: 120, sigma: 30 },
    },
  })
    .png()
    .toFile(picture);
});
beforeEach(() => {
  services = localServices(join(folder, newId()), 2);
  queue = makeWorkQueue(services, makeOperationsService(services));
  jobId = createJob(services, 'Queue', 'focus-stack').id;
});
afterEach(async () => {
  await queue.stop();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
});
afterAll(clean);

function upload(name: string): Promise<string> {
  const temporaryPath = services.storage.folder.scratchFile();
  copyFileSync(picture, temporaryPath);
  return takeUpload(services, jobId, { temporaryPath, name, sizeBytes: 1e6, role: 'frame' });
}

const work = () => services.storage.work.listByJob(jobId);

async function until(done: () => boolean): Promise<void> {
  for (let i = 0; i < 400 && !done(); i++) await new Promise((resolve) => setTimeout(resolve, 50));
  expect(done()).toBe(true);
}

it('reads all files of a job before it processes them', async () => {
  const ids = [await upload('a.png'), await upload('b.png')];
  startProcess(services, jobId);
  queue.wake();
  const states = work().map((w) => [w.kind, w.status]);
  expect(states.filter(([kind]) => kind === 'intake')).toEqual([
    ['intake', 'running'],
    ['intake', 'running'],
  ]);
  expect(states).toContainEqual(['process', 'queued']);
  await until(() => ids.every((id) => services.storage.pictures.find(id)!.status === 'ready'));
  await until(() => work().find((w) => w.kind === 'process')!.status !== 'queued');
});

it('cancels queued work before it starts and running work while it runs; files stay', async () => {
  const id = await upload('a.png');
  await upload('b.png');
  startProcess(services, jobId);
  const process = work().find((w) => w.kind === 'process')!;
  queue.cancel(process.id);
  expect(services.storage.work.find(process.id)!.status).toBe('cancelled');
  queue.wake();
  const running = work().find((w) => w.kind === 'intake' && w.status === 'running')!;
  queue.cancel(running.id);
  await until(() => ['cancelled', 'done'].includes(services.storage.work.find(running.id)!.status));
  expect(services.storage.pictures.find(id)).toBeDefined();
  expect(services.storage.work.find(process.id)!.status).toBe('cancelled');
});

it('names work that is not there', () => {
  expect(() => queue.cancel('nothing')).toThrow('There is no work nothing.');
});

it('refuses to process twice at once, and fewer than two frames', async () => {
  expect(() => startProcess(services, jobId)).toThrow('A focus stack needs at least 2 frames; this job has 0.');
  await upload('a.png');
  await upload('b.png');
  startProcess(services, jobId);
  expect(() => startProcess(services, jobId)).toThrow('This job is being processed already');
});

it('leaves interrupted work to the next start, which finishes it', async () => {
  const id = await upload('a.png');
  queue.wake();
  await queue.stop();
  expect(work()[0]!.status).toBe('running');
  queue = makeWorkQueue(services, makeOperationsService(services));
  expect(work()[0]!.status).toBe('queued');
  queue.wake();
  await until(() => services.storage.pictures.find(id)!.status === 'ready');
  await until(() => work()[0]!.status === 'done');
});

it('a failed file says what is wrong in its own words, and the rest goes on', async () => {
  const good = await upload('good.png');
  const temporaryPath = services.storage.folder.scratchFile();
  copyFileSync(join(__dirname, 'workQueue.test.ts'), temporaryPath);
  const bad = await takeUpload(services, jobId, { temporaryPath, name: 'bad.jpg', sizeBytes: 100, role: 'frame' });
  queue.wake();
  await until(() => services.storage.pictures.find(bad)!.status === 'failed');
  await until(() => services.storage.pictures.find(good)!.status === 'ready');
  // A picture is ready a moment before its work is over.
  await until(() => work().every((w) => w.status !== 'running'));
  expect(services.storage.pictures.find(bad)!.error).toMatch(/^bad\.jpg: this is not a picture that can be read/);
  expect(
    work()
      .map((w) => w.status)
      .sort(),
  ).toEqual(['done', 'failed']);
});
