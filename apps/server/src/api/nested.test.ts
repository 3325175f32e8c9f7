// Nested work over HTTP: a bracket merged first, its merge taken as a frame of a panorama, aligned and blended with the others.
import { rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { jobSchema, mergeSchema, reportSchema, type Job, type MergeKind } from '@blendrak/contract';
import { frameToMerge, type FrameGeometry } from '@blendrak/core/frame';
import { defaultSettings, frameSize } from '@blendrak/scene';
import { openCamera, photograph, type Photographed } from '../services/camera';
import { pairErrors } from '@blendrak/evaluate';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { until } from '../testing/until';
import { makeApp, type App } from './makeApp';

const { path: folder, clean } = temporaryFolder();
const services = localServices(join(folder, 'data'));
const app: App = makeApp(services, null, null);
const http = request(app.express);
const camera = openCamera();
let set: Photographed;

const open = async (id: string): Promise<Job> => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body);

function job(id: string, kind: MergeKind): string {
  services.storage.jobs.insert({ id, name: id, kind, created_at: '2026-01-01' });
  return id;
}

async function ready(id: string, count: number): Promise<void> {
  await until(
    () => open(id),
    ({ pictures }) => pictures.length === count && pictures.every((p) => p.status === 'ready'),
  );
}

async function merged(id: string, body: object = {}): Promise<string> {
  const count = (await open(id)).work.length;
  expect((await http.post(`/api/jobs/${id}/process`).send(body)).status).toBe(202);
  const { summary, work } = await until(
    () => open(id),
    (j) => j.work.length > count && j.work.every((w) => w.status !== 'queued' && w.status !== 'running'),
  );
  expect(work.filter((w) => w.error !== null)).toEqual([]);
  return summary.mergeId!;
}

beforeAll(async () => {
  const rawFolder = join(folder, 'raw');
  const settings = defaultSettings('cove');
  set = await photograph(
    camera,
    { subject: 'cove', seed: 11, frames: 3, ...frameSize('cove', 520), settings },
    join(folder, 'card'),
    { format: 'png', bits: 16, rawFolder, onProgress: () => undefined },
  );
  rmSync(rawFolder, { recursive: true });
});
afterAll(async () => {
  await app.queue.stop();
  await app.repair.settled();
  await Promise.all([services.pool.close(), services.quick.close(), camera.close()]);
  services.storage.close();
  clean();
});

it('a bracket’s merge takes the place of a frame in a panorama, within half a px of where that frame truly lay', async () => {
  const inner = job('Sky', 'bracket');
  for (const [n, gain] of [0.6, 1, 1.35].entries()) {
    const path = join(folder, `sky${n}.png`);
    await sharp(set.files[1]!.path).linear(gain, 0).png().toFile(path);
    expect((await http.post(`/api/jobs/${inner}/files`).attach('file', path)).status).toBe(201);
  }
  await ready(inner, 3);
  await merged(inner);

  const outer = job('Cove', 'panorama');
  expect((await http.post(`/api/jobs/${outer}/merge-frames`).send({ sourceJobId: inner })).status).toBe(201);
  for (const k of [0, 2]) await http.post(`/api/jobs/${outer}/files`).attach('file', set.files[k]!.path);
  await ready(outer, 3);
  const id = await merged(outer);

  const merge = mergeSchema.parse((await http.get(`/api/merges/${id}`)).body);
  expect(merge.frames.map((f) => f.fileName)).toContain('merge of Sky.tif');
  expect(merge.facts?.failed).toEqual([]);
  expect(merge.bits).toBe(16);
  const report = reportSchema.parse((await http.get(`/api/merges/${id}/report.json`)).body);
  const asShot = {
    ...report,
    frames: report.frames.map((f) =>
      f.file === 'merge of Sky.tif' ? { ...f, file: basename(set.files[1]!.path) } : f,
    ),
  };
  const names = set.files.map((f) => basename(f.path));
  const errors = pairErrors({ plan: set.plan, names, kept: [0, 1, 2] }, asShot);
  expect(errors.length).toBeGreaterThanOrEqual(2);
  expect(Math.max(...errors)).toBeLessThan(0.5);
  merge.frames.forEach((f) => expect(f.share).toBeGreaterThan(0.1));
});

it('the panorama says that a frame is stale when the bracket is merged in another way, and takes the new one', async () => {
  await merged('Sky', { options: { method: 'light' } });
  const stale = (await open('Cove')).pictures.find((p) => p.linked)!;
  expect(stale.linked!.state).toBe('stale');
  await http.post(`/api/jobs/Cove/merge-frames/${stale.id}/renew`);
  await ready('Cove', 3);
  const before = (await open('Cove')).summary.mergeId;
  const id = await merged('Cove');
  expect(id).not.toBe(before);
  expect((await open('Cove')).pictures.find((p) => p.linked)!.linked!.state).toBe('fresh');
});

it('a merge of a bracket made elsewhere is laid on its frames and inspected', async () => {
  const path = join(folder, 'elsewhere.png');
  // The middle exposure, cropped and at another size, passes for a merge.
  const { width, height } = set.plan.shots[1]!.view;
  const crop = { left: 24, top: 16, width: width - 60, height: height - 40 };
  await sharp(set.files[1]!.path)
    .extract(crop)
    .resize(Math.round(0.8 * crop.width))
    .png()
    .toFile(path);
  expect((await http.post('/api/jobs/Sky/files?role=merge').attach('file', path)).status).toBe(201);
  await ready('Sky', 4);
  const id = await merged('Sky');
  const merge = mergeSchema.parse((await http.get(`/api/merges/${id}`)).body);
  expect([merge.origin, merge.fileName, merge.lookedFor.includes('ghost')]).toEqual([
    'imported',
    'elsewhere.png',
    true,
  ]);
  const place = frameToMerge(merge.frames[1]!.geometry as FrameGeometry, 100, 100)!;
  expect(Math.hypot(place[0] - 0.8 * 76, place[1] - 0.8 * 84)).toBeLessThan(0.5);
});
