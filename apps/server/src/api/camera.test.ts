// The simulated camera over HTTP: what can be ordered, what is refused, and the files arriving in a job.
import { join } from 'node:path';
import request from 'supertest';
import {
  jobSchema,
  jobSummarySchema,
  problemSchema,
  shootMenuSchema,
  type Job,
  type ShootOrder,
} from '@blendrak/contract';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { until } from '../testing/until';
import { makeApp } from './makeApp';

const { path: folder, clean } = temporaryFolder();
const services = localServices(join(folder, 'data'));
const app = makeApp(services, null, null);
const http = request(app.express);
afterAll(async () => {
  await app.queue.stop();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

async function order(subject: ShootOrder['subject'], over: Partial<ShootOrder> = {}): Promise<ShootOrder> {
  const menu = shootMenuSchema.parse((await http.get('/api/camera')).body);
  const entry = menu.find((m) => m.subject === subject)!;
  return {
    name: entry.title,
    subject,
    seed: 5,
    longSidePx: 320,
    frames: entry.frames,
    settings: entry.settings,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: false,
    ...over,
  };
}

function finished(id: string): Promise<Job> {
  return until(
    async () => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body),
    ({ work }) => work.length > 1 && work.every((w) => w.status !== 'queued' && w.status !== 'running'),
  );
}

it('offers sets of all three kinds', async () => {
  const menu = shootMenuSchema.parse((await http.get('/api/camera')).body);
  expect(new Set(menu.map((m) => m.kind))).toEqual(new Set(['focus-stack', 'panorama', 'bracket']));
});

it('delivers a bracket into a job of its kind: times step, the rest stays', async () => {
  const answer = await http.post('/api/camera/shoot').send(await order('lamp-room', { mergeElsewhere: true }));
  expect(answer.status).toBe(201);
  const job = await finished(jobSummarySchema.parse(answer.body).id);
  expect(job.work.map((w) => w.error)).toEqual(job.work.map(() => null));
  expect(job.summary).toMatchObject({ kind: 'bracket', frames: 3 });
  expect(job.pictures.find((p) => p.role === 'merge')?.fileName).toBe('merge made elsewhere.tif');
  const exif = job.pictures.filter((p) => p.role === 'frame').map((p) => p.exif!);
  const steps = [1, 2].map((k) => Math.log2(exif[k]!.exposureS! / exif[k - 1]!.exposureS!));
  steps.forEach((s) => expect(s).toBeCloseTo(3, 1));
  expect(new Set(exif.map((e) => `${e.fNumber} ${e.iso} ${e.focalLengthMm}`)).size).toBe(1);
});

it('names the setting that cannot be used, its value and what is accepted', async () => {
  const tooMany = await http.post('/api/camera/shoot').send(await order('cove', { frames: 60 }));
  expect(tooMany.status).toBe(422);
  expect(problemSchema.parse(tooMany.body).detail).toBe('frames: 60 cannot be photographed. Accepted: from 1 to 24.');
  const usual = await order('cove');
  const wide = await http.post('/api/camera/shoot').send({ ...usual, settings: { ...usual.settings, fNumber: 0.2 } });
  expect(wide.status).toBe(400);
  expect(problemSchema.parse(wide.body).detail).toContain('f-number: from 1.4 to 32 is accepted');
  expect((await http.post('/api/camera/shoot').send({ subject: 'moon' })).status).toBe(400);
  expect((await http.get('/api/jobs')).body).toHaveLength(1);
});
