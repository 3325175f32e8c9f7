// Work on a full disk pauses with the reason, the rest goes on, and it goes on by itself when there is room.
import { writeFileSync } from 'node:fs';
import { NoRoomError } from '../shared/noRoom';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { until } from '../testing/until';
import type { Services } from './context';
import { takeUpload } from './intake/takeFiles';
import { createJob } from './jobsService';
import { makeOperationsService } from './mend/operations';
import { makeWorkQueue, type WorkQueue } from './workQueue';
import sharp from 'sharp';

const { path, clean } = temporaryFolder();
let services: Services;
let queue: WorkQueue;
let jobId: string;
let png: Buffer;

beforeAll(async () => {
  services = localServices(path);
  png = await sharp({ create: { width: 100, height: 80, channels: 3, background: '#777' } })
    .png()
    .toBuffer();
});
beforeEach(() => {
  queue = makeWorkQueue(services, makeOperationsService(services));
  jobId = createJob(services, 'Full', 'focus-stack').id;
});
afterEach(async () => {
  jest.restoreAllMocks();
  await queue.stop();
});
afterAll(async () => {
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

async function upload(name: string): Promise<string> {
  const temporaryPath = services.storage.folder.scratchFile();
  writeFileSync(temporaryPath, png);
  return takeUpload(services, jobId, { temporaryPath, name, sizeBytes: png.length, role: 'frame' });
}
const work = () => Promise.resolve(services.storage.work.listByJob(jobId));

it('a picture without room waits, another is read meanwhile, and both are there in the end', async () => {
  const run = services.pool.run;
  let full = true;
  jest
    .spyOn(services.pool, 'run')
    .mockImplementation(((name: string, request: { name: string }, signal: AbortSignal) =>
      name === 'store' && request.name === 'large.png' && full
        ? Promise.reject(new NoRoomError('reading large.png', 5e9, 1e9))
        : run(name as 'store', request as never, signal)) as typeof run);
  const free = jest.spyOn(services.storage.folder, 'freeBytes').mockReturnValue(1e9);
  const large = await upload('large.png');
  const small = await upload('small.png');
  queue.wake();
  const [paused] = await until(
    work,
    (all) => all.some((w) => w.status === 'paused') && all.some((w) => w.status === 'done'),
  );
  expect(paused!.error).toBe(
    'The disk is full: reading large.png needs 5.0 GB, 1.0 GB are free. Accepted: more free space on the disk of the data folder. It goes on by itself then.',
  );
  expect(services.storage.pictures.find(large)).toMatchObject({ status: 'waiting', error: null });
  expect(services.storage.pictures.find(small)!.status).toBe('ready');
  full = false;
  free.mockReturnValue(6e9);
  await until(work, (all) => all.every((w) => w.status === 'done'));
  expect(services.storage.pictures.find(large)!.status).toBe('ready');
});

it('paused work can be cancelled', async () => {
  jest.spyOn(services.pool, 'run').mockRejectedValue(new NoRoomError('reading', 1e15, 1e9));
  await upload('one.png');
  queue.wake();
  const [paused] = await until(work, (all) => all[0]!.status === 'paused');
  queue.cancel(paused!.id);
  expect((await work())[0]!.status).toBe('cancelled');
});

it('a state that a full disk would not take is written later, and the queue lives on', async () => {
  const write = services.storage.work.setStatus;
  let failures = 2;
  jest.spyOn(services.storage.work, 'setStatus').mockImplementation((...parameters) => {
    if (failures-- > 0) throw Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' });
    return write(...parameters);
  });
  const id = await upload('one.png');
  queue.wake();
  await until(work, (all) => all[0]!.status === 'done');
  expect(services.storage.pictures.find(id)!.status).toBe('ready');
});

it('a database that is full while a picture is recorded pauses the work instead of ending the server', async () => {
  jest.spyOn(services.storage.pictures, 'markReady').mockImplementationOnce(() => {
    throw Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' });
  });
  const id = await upload('one.png');
  queue.wake();
  await until(work, (all) => all[0]!.status === 'paused');
  await until(work, (all) => all[0]!.status === 'done');
  expect(services.storage.pictures.find(id)!.status).toBe('ready');
});
