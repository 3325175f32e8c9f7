// Sorting over HTTP: a folder and single files in, sets out, edited by hand, made into jobs; nothing is lost on the way.
import { copyFileSync, mkdirSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { cardSchema, jobSchema, jobSummarySchema, problemSchema, type Card } from '@blendrak/contract';
import { defaultSettings, frameSize, type Subject } from '@blendrak/scene';
import { openCamera, shootCard, type CardSet } from '../services/camera';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { until } from '../testing/until';
import { makeApp } from './makeApp';

const { path: root, clean } = temporaryFolder();
const services = localServices(join(root, 'data'));
const app = makeApp(services, null, null);
const http = request(app.express);
const folder = join(root, 'card');

const set = (subject: Subject, frames: number): CardSet => ({
  assignment: { subject, seed: 3, frames, ...frameSize(subject, 480), settings: defaultSettings(subject) },
  separator: true,
  missing: null,
  pauseS: 60,
});

beforeAll(async () => {
  mkdirSync(folder);
  const camera = openCamera();
  await shootCard(camera, [set('signal-flags', 5), set('lamp-room', 3)], folder, { settings: true });
  await camera.close();
  writeFileSync(join(folder, 'broken.jpg'), 'no picture');
  writeFileSync(join(folder, 'shot.dng'), 'raw');
});
afterAll(async () => {
  await app.queue.stop();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

const open = async (id: string): Promise<Card> => cardSchema.parse((await http.get(`/api/cards/${id}`)).body);
const sorted = (id: string): Promise<Card> =>
  until(
    () => open(id),
    (c) => c.sorting !== null && c.summary.work === null,
  );
const problemOf = (body: unknown): string => problemSchema.parse(body).detail;
let card: Card;

it('reads a folder where it lies and proposes its sets; bad files are named', async () => {
  const answer = await http.post('/api/cards').send({ name: 'Tuesday', folder });
  expect(answer.status).toBe(201);
  card = await sorted(cardSchema.parse(answer.body).summary.id);
  const { sets, separators, unassigned } = card.sorting!;
  expect(sets.map((s) => [s.kind, s.files.length])).toEqual([
    ['focus-stack', 5],
    ['bracket', 3],
  ]);
  expect(separators).toHaveLength(2);
  expect(unassigned).toHaveLength(2);
  const errors = card.files.flatMap((f) => f.error ?? []).join('\n');
  expect(errors).toContain('broken.jpg: this is not a picture');
  expect(errors).toContain('shot.dng: this is a camera raw file');
  const thumb = await http.get(`/api/card-files/${sets[0]!.files[0]}/thumb.jpg`);
  expect(thumb.headers['content-type']).toBe('image/jpeg');
});

it('keeps an edit by hand, and refuses one that would lose a file', async () => {
  const sorting = card.sorting!;
  const [stack, bracket] = sorting.sets;
  const moved = { ...sorting, sets: [{ ...stack!, leftOut: [stack!.files[1]!] }, bracket!] };
  const kept = await http.put(`/api/cards/${card.summary.id}/sorting`).send(moved);
  expect(cardSchema.parse(kept.body).sorting!.sets[0]!.leftOut).toHaveLength(1);
  const lossy = { ...moved, unassigned: [] };
  const answer = await http.put(`/api/cards/${card.summary.id}/sorting`).send(lossy);
  expect(answer.status).toBe(400);
  expect(problemOf(answer.body)).toContain('each of the 12 files must stand in one place');
});

it('checks a set anew that was put together by hand: a frame of another scene is found', async () => {
  const sorting = (await open(card.summary.id)).sorting!;
  const [stack, bracket] = sorting.sets;
  const stranger = bracket!.files[2]!;
  const mixed = {
    ...sorting,
    sets: [
      { ...stack!, files: [...stack!.files, stranger] },
      { ...bracket!, files: bracket!.files.slice(0, 2) },
    ],
  };
  await http.put(`/api/cards/${card.summary.id}/sorting`).send(mixed);
  const checked = await until(
    () => open(card.summary.id),
    (c) => c.sorting!.sets[0]!.checks.some((k) => k.check === 'other-scene'),
  );
  expect(checked.sorting!.sets[0]!.checks.filter((k) => k.check === 'other-scene').map((k) => k.file)).toEqual([
    stranger,
  ]);
  await http.put(`/api/cards/${card.summary.id}/sorting`).send(sorting);
});

it('makes a job of a set, without the frame that was left out', async () => {
  const { id } = (await open(card.summary.id)).sorting!.sets[0]!;
  const job = jobSummarySchema.parse((await http.post(`/api/cards/${card.summary.id}/sets/${id}/job`)).body);
  expect(job).toMatchObject({ kind: 'focus-stack', frames: 4 });
  const ready = await until(
    async () => jobSchema.parse((await http.get(`/api/jobs/${job.id}`)).body),
    ({ pictures }) => pictures.every((p) => p.status === 'ready'),
  );
  expect(ready.pictures.map((p) => p.fileName)).not.toContain('kp_0002.jpg');
  expect((await open(card.summary.id)).sorting!.sets[0]!.jobId).toBe(job.id);
});

it('takes single files, keeps the same file once, and sorts when asked', async () => {
  const { summary } = cardSchema.parse((await http.post('/api/cards').send({ name: 'Dropped', folder: null })).body);
  expect((await http.post(`/api/cards/${summary.id}/sort`)).status).toBe(409);
  const names = readdirSync(folder).filter((n) => /000[678]/.test(n));
  copyFileSync(join(folder, names[0]!), join(root, 'again.jpg'));
  for (const path of [...names.map((n) => join(folder, n)), join(root, 'again.jpg')])
    await http.post(`/api/cards/${summary.id}/files`).attach('file', path);
  await http.post(`/api/cards/${summary.id}/sort`);
  expect((await sorted(summary.id)).files).toHaveLength(names.length);
  expect((await http.delete(`/api/cards/${summary.id}`)).status).toBe(204);
  expect((await http.get(`/api/cards/${summary.id}`)).status).toBe(404);
});

it('looks are kept: what was looked at before a kill is not looked at again', async () => {
  const before = await open(card.summary.id);
  const start = performance.now();
  await http.post(`/api/cards/${card.summary.id}/sort`);
  const again = await sorted(card.summary.id);
  expect(again.files.map((f) => f.id)).toEqual(before.files.map((f) => f.id));
  expect(performance.now() - start).toBeLessThan(60_000);
});

it('refuses a folder that cannot be read, that is empty, or that links out of itself', async () => {
  const answer = async (path: string): Promise<string> =>
    problemOf((await http.post('/api/cards').send({ name: 'X', folder: path })).body);
  expect(await answer(join(root, 'nowhere'))).toContain('the folder cannot be read');
  mkdirSync(join(root, 'empty'));
  expect(await answer(join(root, 'empty'))).toContain('there are no pictures in it');
  symlinkSync(join(folder, 'kp_0001.jpg'), join(root, 'empty', 'link.jpg'));
  expect(await answer(join(root, 'empty'))).toContain('link.jpg: this link leads out of the folder');
});

it('a TIFF with pages is taken apart on a card, too', async () => {
  const pages = join(root, 'pages');
  mkdirSync(pages);
  const plain = await Promise.all(
    ['#303030', '#909090'].map((background) =>
      sharp({ create: { width: 96, height: 80, channels: 3, background } })
        .png()
        .toBuffer(),
    ),
  );
  const tall = await sharp(plain, { join: { across: 1 } })
    .raw()
    .toBuffer();
  await sharp(tall, { raw: { width: 96, height: 160, channels: 3, pageHeight: 80 } })
    .tiff()
    .toFile(join(pages, 'two.tif'));
  writeFileSync(join(pages, 'work.ora'), 'no zip');
  const { summary } = cardSchema.parse((await http.post('/api/cards').send({ name: 'Pages', folder: pages })).body);
  const { files } = await sorted(summary.id);
  expect(files.map((f) => f.fileName).sort()).toEqual(['two page 1.tif', 'two page 2.tif', 'work.ora']);
  expect(files.find((f) => f.fileName === 'work.ora')!.error).toContain('no OpenRaster file');
  expect(readdirSync(pages).sort()).toEqual(['two.tif', 'work.ora']);
});
