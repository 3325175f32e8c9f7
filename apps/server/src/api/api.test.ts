// The HTTP interface over a small stack built in code: from files to a repaired picture.
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import {
  jobSchema,
  mergeSchema,
  problemSchema,
  reportSchema,
  findingChangesSchema,
  findingSchema,
  operationChangesSchema,
  pinSchema,
  sweepSchema,
  workSchema,
  type Finding,
  type Merge,
  type Operation,
} from '@blendrak/contract';
import { blurredSeries, pasteRect } from '../../../../packages/core/src/testing/stack';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import type { Plane } from '@blendrak/core/image';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { placeOperation, tileState } from '@blendrak/core/repair';
import { adding, asking, paintStroke } from '../testing/paint';
import { until } from '../testing/until';
import { makeApp, type App } from './makeApp';

const W = 480;
const H = 384;
const { path: folder, clean } = temporaryFolder();
const services = localServices(join(folder, 'data'));
const app: App = makeApp(services, null, null);
const http = request(app.express);
const files: string[] = [];
let jobId = '';

async function save(plane: Plane, name: string): Promise<string> {
  const { data } = greyPixels(plane, 8);
  const path = join(folder, name);
  await sharp(data as Uint8Array, { raw: { width: W, height: H, channels: 3 } })
    .png()
    .toFile(path);
  files.push(path);
  return path;
}

const job = async () => jobSchema.parse((await http.get(`/api/jobs/${jobId}`)).body);
const operationsOf = async (id: string): Promise<Operation[]> =>
  operationChangesSchema.parse((await http.get(`/api/merges/${id}/operations`)).body).changed;
const findingsOf = async (id: string): Promise<Finding[]> =>
  findingChangesSchema.parse((await http.get(`/api/merges/${id}/findings`)).body).changed;
const merge = async (id: string): Promise<Merge & { findings: Finding[] }> => ({
  ...mergeSchema.parse((await http.get(`/api/merges/${id}`)).body),
  findings: await findingsOf(id),
});

beforeAll(async () => {
  const planes = blurredSeries(W, H, 31, 1, [0, 1, 2, 3]);
  for (const [k, plane] of planes.entries()) await save(plane, `frame${k + 1}.png`);
  await save(pasteRect(planes[1]!, planes[3]!, 160, 120, 120, 96), 'elsewhere.png');
  jobId = ((await http.post('/api/jobs').send({ name: 'Plate' })).body as { id: string }).id;
});
afterAll(async () => {
  await app.queue.stop();
  await app.repair.settled();
  await Promise.all([services.pool.close(), services.quick.close()]);
  services.storage.close();
  clean();
});

it('a job needs a name', async () => {
  const answer = await http.post('/api/jobs').send({ name: '  ' });
  expect(answer.status).toBe(400);
  expect(problemSchema.parse(answer.body).detail).toContain('name');
});

it('takes files one by one; a bad one is named and the rest stays', async () => {
  for (const path of files.slice(0, 4)) {
    expect((await http.post(`/api/jobs/${jobId}/files`).attach('file', path)).status).toBe(201);
  }
  const text = join(folder, 'notes.jpg');
  writeFileSync(text, 'words');
  expect((await http.post(`/api/jobs/${jobId}/files`).attach('file', text)).status).toBe(201);
  expect((await http.post(`/api/jobs/${jobId}/files?role=merge`).attach('file', files[4]!)).status).toBe(201);
  const settled = await until(job, (j) => j.pictures.every((p) => p.status !== 'waiting'));
  expect(settled.pictures.filter((p) => p.status === 'ready')).toHaveLength(5);
  const bad = settled.pictures.find((p) => p.status === 'failed')!;
  expect(bad.error).toMatch(/^notes\.jpg: this is not a picture that can be read/);
  expect((await http.delete(`/api/jobs/${jobId}/pictures/${bad.id}`)).status).toBe(204);
});

it('says why a folder or a lone frame cannot be used', async () => {
  const lone = ((await http.post('/api/jobs').send({ name: 'Lone' })).body as { id: string }).id;
  const missing = await http.post(`/api/jobs/${lone}/folder`).send({ path: join(folder, 'nowhere') });
  expect(missing.status).toBe(422);
  expect(problemSchema.parse(missing.body).detail).toContain('the folder cannot be read');
  const early = await http.post(`/api/jobs/${lone}/process`).send({});
  expect(early.status).toBe(409);
  expect(problemSchema.parse(early.body).detail).toContain('at least 2 frames; this job has 0');
  expect((await http.get('/api/jobs/none')).status).toBe(404);
});

it('finds the soft patch in the merge made elsewhere and names the sharp frame', async () => {
  expect((await http.post(`/api/jobs/${jobId}/process`).send({})).status).toBe(202);
  const done = await until(job, (j) =>
    j.work.some((w) => w.kind === 'process' && ['done', 'failed'].includes(w.status)),
  );
  expect(done.work.find((w) => w.kind === 'process')).toMatchObject({ status: 'done', error: null });
  const found = await merge(done.summary.mergeId!);
  expect(found.origin).toBe('imported');
  expect(found.findings.map((f) => f.defect)).toEqual(['soft-patch']);
  expect(found.frames[found.findings[0]!.donor!]!.fileName).toBe('frame2.png');
  for (const f of found.frames) expect(Math.abs(f.scale - 1)).toBeLessThan(1e-3);
});

describe('what people measure and look at', () => {
  const id = async (): Promise<string> => (await job()).summary.mergeId!;
  const ask = async (path: string, body: object) => http.post(`/api/merges/${await id()}/${path}`).send(body);
  const detail = (answer: { body: unknown }): string => problemSchema.parse(answer.body).detail;

  it('pins keep their numbers and their readings, and go into the report', async () => {
    // From the soft patch to beside it: the same surface.
    const added = await ask('pins', { kind: 'patch', from: [220, 160], to: [320, 160] });
    expect(added.status).toBe(201);
    const pin = pinSchema.parse(added.body);
    expect([pin.number, pin.kind, pin.reading.kind]).toEqual([1, 'patch', 'patch']);
    const { reading } = pin;
    if (reading.kind !== 'patch') throw new Error('not a patch');
    // What lies in the patch is softer than what lies beside it, in the merge and not in the frame that is sharp in both.
    const ratio = (p: (typeof reading)['merge']): number => p.to.detail / p.from.detail;
    expect(ratio(reading.merge)).toBeGreaterThan(1.5 * ratio(reading.frames[1]!.pair));
    await http.delete(`/api/pins/${pin.id}`);
    const again = pinSchema.parse((await ask('pins', { kind: 'patch', from: [50, 50], to: [120, 60] })).body);
    expect(again.number).toBe(2);
    const listed = (await http.get(`/api/merges/${await id()}/pins`)).body as unknown[];
    expect(listed).toHaveLength(1);
    const report = reportSchema.parse((await http.get(`/api/merges/${await id()}/report.json`)).body);
    expect(report.pins?.map((p) => [p.number, p.kind])).toEqual([[2, 'patch']]);
  });

  it('says what cannot be measured', async () => {
    expect(detail(await ask('pins', { kind: 'edge', from: [10, 10], to: [12, 10] }))).toContain(
      '2.0 px long. Accepted: 8',
    );
    expect(detail(await ask('pins', { kind: 'edge', from: [10, 10], to: [900, 10] }))).toContain(
      '(900, 10) is outside',
    );
    expect((await http.delete('/api/pins/none')).status).toBe(404);
    expect((await http.get('/api/merges/none/pins')).status).toBe(404);
  });

  it('what was looked at adds up, square by square', async () => {
    const path = `/api/merges/${await id()}/sweep`;
    const before = sweepSchema.parse((await http.get(path)).body);
    expect([before.columns, before.rows]).toEqual([4, 3]);
    const seen = (values: number[]): string => Buffer.from(values).toString('base64');
    const look = { columns: 4, rows: 3, seen: seen([3, 200, ...new Array<number>(10).fill(0)]) };
    await http.post(path).send(look);
    const after = sweepSchema.parse((await http.post(path).send(look)).body);
    expect([...Buffer.from(after.seen, 'base64')].slice(0, 3)).toEqual([6, 255, 0]);
    expect(detail(await ask('sweep', { ...look, columns: 5 }))).toContain('Accepted: 4 × 3');
  });

  it('a mark by hand is traced like any finding, and no detector closes it', async () => {
    const polygon = [[176, 136], [264, 136], [264, 200], [176, 200]]; // prettier-ignore
    const answer = await ask('findings', { defect: 'ghost', polygon });
    expect(answer.status).toBe(201);
    const found = findingSchema.parse(answer.body);
    expect(found).toMatchObject({ defect: 'ghost', byHand: true, decision: 'open', confidence: 1 });
    expect(found.bbox).toEqual({ x: 176, y: 136, width: 88, height: 64 });
    expect(found.cause).toBe('Marked by hand. The merge shows frame4.png here; frame2.png is better.');
    expect((await findingsOf(await id())).at(-1)!.id).toBe(found.id);
    const all = [[0, 0], [480, 0], [480, 384], [0, 384]]; // prettier-ignore
    expect(detail(await ask('findings', { defect: 'ghost', polygon: all }))).toContain('a quarter of the picture');
    const outside = [[600, 10], [640, 10], [640, 40]]; // prettier-ignore
    expect(detail(await ask('findings', { defect: 'ghost', polygon: outside }))).toContain(
      'holds nothing of the merge',
    );
    await http.patch(`/api/findings/${found.id}`).send({ decision: 'not-a-defect' });
  });

  it('a report is read back: what is known stays, what is new joins, at any size of the picture', async () => {
    const report = reportSchema.parse((await http.get(`/api/merges/${await id()}/report.json`)).body);
    const { pins: _pins, ...bare } = report;
    expect((await ask('report', bare)).body).toEqual({ taken: 0, known: report.findings.length });
    const [first] = report.findings;
    const region = { bbox: [8, 8, 40, 30], polygon: [[8, 8], [48, 8], [48, 38]] }; // prettier-ignore
    const half = { ...bare.merge, width: bare.merge.width / 2, height: bare.merge.height / 2 };
    const other = { ...bare, merge: half, findings: [{ ...first!, region }] };
    expect((await ask('report', other)).body).toEqual({ taken: 1, known: 0 });
    const taken = (await findingsOf(await id())).at(-1)!;
    expect(taken).toMatchObject({
      defect: first!.defect,
      bbox: { x: 16, y: 16, width: 80, height: 60 },
      decision: 'open',
    });
    await http.patch(`/api/findings/${taken.id}`).send({ decision: 'not-a-defect' });
    expect(detail(await ask('report', { ...bare, kind: 'bracket' }))).toContain(
      'Accepted: a report of this focus-stack',
    );
    expect(detail(await ask('report', { ...bare, merge: { ...half, height: 90 } }))).toContain('240 × 90 px');
    const strange = [{ ...first!, donor: 'elsewhere.jpg' }];
    expect(detail(await ask('report', { ...bare, findings: strange }))).toContain('elsewhere.jpg is no frame');
    const page = (await http.get(`/api/merges/${await id()}/annotations.json`)).body as { items: unknown[] };
    expect(page.items.length).toBeGreaterThan(1);
  });

  it('maps of the evidence are pictures: dark where detail was lost, light where it is worth looking', async () => {
    const { maps } = await merge(await id());
    expect(maps).toEqual(['sharpness', 'risk']);
    const mean = async (name: string, region: string): Promise<number> => {
      const tile = (await http.get(`/iiif/e-${await id()}-${name}/${region}/max/0/default.png`)).body as Buffer;
      return (await sharp(tile).stats()).channels[0]!.mean;
    };
    const [patch, beside] = ['176,136,88,64', '20,20,88,64'];
    expect(await mean('sharpness', patch)).toBeLessThan(0.7 * (await mean('sharpness', beside)));
    expect(await mean('risk', patch)).toBeGreaterThan(4 * (await mean('risk', beside)));
    const missing = await http.get(`/iiif/e-${await id()}-disagreement/full/max/0/default.png`);
    expect([missing.status, detail(missing)]).toEqual([404, expect.stringContaining('Accepted: sharpness, risk')]);
  });
});

describe('repair', () => {
  const current = async () => merge((await job()).summary.mergeId!);
  const tile = async (id: string): Promise<Buffer> =>
    (await http.get(`/iiif/${id}/160,120,120,96/max/0/default.png`)).body as Buffer;

  it('a stroke changes the picture, closes the finding, and undo opens it again', async () => {
    const before = await current();
    const plain = await tile(`r-${before.id}`);
    const { bbox, donor } = before.findings[0]!;
    const points = Array.from({ length: 9 }, (_, i): [number, number] => [
      bbox.x + (i % 2 ? bbox.width : 0),
      bbox.y + (i * bbox.height) / 8,
    ]);
    const stroke = paintStroke(donor, points, { sizePx: 60, hardness: 0.6 });
    const answer = await http.post(`/api/merges/${before.id}/changes`).send(adding('stroke-one', stroke));
    expect(answer.status).toBe(201);
    const repaired = await until(current, (m) => m.findings[0]!.decision === 'repaired');
    expect(repaired.findings[0]!.recheck).toContain('no soft-patch left here');
    expect((await tile(`r-${before.id}`)).equals(plain)).toBe(false);
    expect((await tile(`m-${before.id}`)).equals(plain)).toBe(true);
    await http.post(`/api/merges/${before.id}/changes`).send(asking({ kind: 'undo' }));
    const undone = await until(current, (m) => m.findings[0]!.decision === 'open');
    expect(undone.findings[0]!.recheck).toContain('% of the soft-patch is still there');
    expect((await tile(`r-${before.id}`)).equals(plain)).toBe(true);
    await http.post(`/api/merges/${before.id}/changes`).send(asking({ kind: 'redo' }));
    await until(current, (m) => m.findings[0]!.decision === 'repaired');
  });

  it('serves a tile in a named state for good, and refuses one in which it never was', async () => {
    const { id } = await current();
    const part = `/iiif/r-${id}/160,120,120,96/max/0/default.png`;
    const plain = await http.get(`${part}?v=0`);
    expect((plain.body as Buffer).equals(await tile(`m-${id}`))).toBe(true);
    const placed = (await operationsOf(id)).map((o) => placeOperation(o));
    const state = tileState(placed, { x: 160, y: 120, width: 120, height: 96 }, 120);
    const painted = await http.get(`${part}?v=${state}`);
    expect((painted.body as Buffer).equals(await tile(`r-${id}`))).toBe(true);
    expect((painted.body as Buffer).equals(plain.body as Buffer)).toBe(false);
    expect(painted.headers['cache-control']).toContain('immutable');
    expect((await http.get(part)).headers['cache-control']).toBe('no-cache');
    const gone = await http.get(`${part}?v=0123456789abcdef`);
    expect(gone.status).toBe(404);
    expect(problemSchema.parse(gone.body).detail).toContain('not in the state 0123456789abcdef (any more)');
  });

  it('the same stroke sent twice is kept once', async () => {
    const { id } = await current();
    const [{ kind, donor, shape }] = (await operationsOf(id)) as [Operation];
    await http.post(`/api/merges/${id}/changes`).send(adding('stroke-one', { kind, donor, shape }));
    expect(await operationsOf(id)).toHaveLength(1);
  });

  it('refuses a stroke with a frame that is not there', async () => {
    const { id } = await current();
    const answer = await http.post(`/api/merges/${id}/changes`).send(adding('stroke-bad', paintStroke(44)));
    expect(problemSchema.parse(answer.body).detail).toContain(
      'frames 0 to 3, or null for the merge itself, received 44',
    );
  });

  it('an export that was cancelled leaves nothing and cannot be fetched; one of no such format is refused', async () => {
    const { id } = await current();
    const refused = await http.post(`/api/merges/${id}/exports`).send({ format: 'gif' });
    expect([refused.status, problemSchema.parse(refused.body).detail]).toEqual([
      400,
      expect.stringContaining('format'),
    ]);
    const work = workSchema.parse((await http.post(`/api/merges/${id}/exports`).send({ format: 'png' })).body);
    await http.post(`/api/jobs/work/${work.id}/cancel`);
    await until(job, (j) => j.work.some((w) => w.id === work.id && w.status === 'cancelled'));
    const answer = await http.get(`/api/exports/${work.id}`);
    expect([answer.status, problemSchema.parse(answer.body).detail]).toEqual([
      409,
      expect.stringContaining('cancelled'),
    ]);
    expect(existsSync(services.storage.folder.exported(work.id))).toBe(false);
    expect((await http.get('/api/exports/nothing')).status).toBe(404);
  });

  it('exports a 16-bit TIFF with the repair in it, the mask, and a report that reads back', async () => {
    const { id, findings } = await current();
    const work = workSchema.parse((await http.post(`/api/merges/${id}/exports`).send({ format: 'tiff' })).body);
    // Who asks again meanwhile waits for the same.
    expect((await http.post(`/api/merges/${id}/exports`).send({ format: 'tiff' })).body).toMatchObject({ id: work.id });
    await until(job, (j) => j.work.some((w) => w.id === work.id && w.status === 'done'));
    const tiff = await http.get(`/api/exports/${work.id}`).buffer(true).parse(bytes);
    expect(tiff.headers['content-disposition']).toMatch(/repaired\.tif/);
    const meta = await sharp(tiff.body as Buffer).metadata();
    expect(meta).toMatchObject({ format: 'tiff', depth: 'ushort', width: W, height: H });
    const mask = await http.get(`/api/merges/${id}/masks/${findings[0]!.donor}.png`).buffer(true).parse(bytes);
    const { data, info } = await sharp(mask.body as Buffer)
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(data[(168 * W + 220) * info.channels]).toBeGreaterThan(200);
    expect(data[(20 * W + 20) * info.channels]).toBe(0);
    const report = reportSchema.parse(JSON.parse((await http.get(`/api/merges/${id}/report.json`)).text));
    expect(report.findings[0]).toMatchObject({
      id: 'f-0001',
      defect: 'soft-patch',
      donor: 'frame2.png',
      repairable: true,
    });
    expect(report.frames).toHaveLength(4);
  });

  it('a defect is only accepted with a reason', async () => {
    const { findings } = await current();
    const bare = await http.patch(`/api/findings/${findings[0]!.id}`).send({ decision: 'accepted' });
    expect(bare.status).toBe(400);
    const given = await http
      .patch(`/api/findings/${findings[0]!.id}`)
      .send({ decision: 'accepted', reason: 'under the mount' });
    const [changed] = findingChangesSchema.parse(given.body).changed;
    expect(changed).toMatchObject({ decision: 'accepted', reason: 'under the mount' });
  });

  it('measures the frames at a place', async () => {
    const { id } = await current();
    const { body } = await http.get(`/api/merges/${id}/probe?x=60&y=60`);
    const frames = (body as { frames: { sharpness: number }[] }).frames;
    expect(frames[1]!.sharpness).toBeCloseTo(1, 1);
    expect(frames[3]!.sharpness).toBeLessThan(0.7);
    // The place as every frame shows it comes along: one request for the whole trace strip.
    const { patches, patchPx } = body as { patches: string; patchPx: number };
    const strip = await sharp(Buffer.from(patches.split(',')[1]!, 'base64')).metadata();
    expect([strip.format, strip.width, strip.height]).toEqual(['jpeg', 4 * patchPx, patchPx]);
    expect((await http.get(`/api/merges/${id}/probe?x=9999&y=1`)).status).toBe(400);
  });
});

function bytes(response: request.Response, done: (error: Error | null, body: Buffer) => void): void {
  const parts: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on('data', (part: Buffer) => parts.push(part));
  stream.on('end', () => done(null, Buffer.concat(parts)));
}

describe('the merge of another job as a frame', () => {
  let outer = '';
  const open = async () => jobSchema.parse((await http.get(`/api/jobs/${outer}`)).body);
  const taken = () => until(open, ({ pictures }) => pictures.length > 0 && pictures.every((p) => p.status === 'ready'));

  it('is taken with its repairs, 16 bits deep, and stays linked', async () => {
    outer = ((await http.post('/api/jobs').send({ name: 'Outer' })).body as { id: string }).id;
    const answer = await http.post(`/api/jobs/${outer}/merge-frames`).send({ sourceJobId: jobId });
    expect(answer.status).toBe(201);
    const [frame] = (await taken()).pictures;
    expect(frame).toMatchObject({ fileName: 'merge of Plate.tif', width: W, height: H, bits: 16, role: 'frame' });
    expect(frame!.linked).toEqual({ jobId, jobName: 'Plate', state: 'fresh' });
  });

  it('is stale once its source changes, and can be taken anew', async () => {
    const { mergeId } = (await job()).summary;
    const stroke = paintStroke(1, [[200, 150]], { sizePx: 40 });
    await http.post(`/api/merges/${mergeId!}/changes`).send(adding('stroke-later', stroke));
    const [stale] = (await open()).pictures;
    expect(stale!.linked!.state).toBe('stale');
    await http.post(`/api/jobs/${outer}/merge-frames/${stale!.id}/renew`);
    const { pictures } = await taken();
    expect(pictures.map((p) => p.linked!.state)).toEqual(['fresh']);
    expect(pictures[0]!.id).not.toBe(stale!.id);
  });

  it('cannot go round in a circle, nor come from a job without a merge', async () => {
    const circle = await http.post(`/api/jobs/${jobId}/merge-frames`).send({ sourceJobId: outer });
    expect(circle.status).toBe(409);
    expect(problemSchema.parse(circle.body).detail).toContain('“Outer” is made of this job');
    const bare = (await http.post('/api/jobs').send({ name: 'Bare' })).body as { id: string };
    const none = await http.post(`/api/jobs/${outer}/merge-frames`).send({ sourceJobId: bare.id });
    expect(problemSchema.parse(none.body).detail).toContain('“Bare” has no merge yet');
  });
});

it('a TIFF with pages becomes the frames of a job', async () => {
  const pages = await Promise.all(
    ['#303030', '#909090'].map((background) =>
      sharp({ create: { width: 96, height: 80, channels: 3, background } })
        .png()
        .toBuffer(),
    ),
  );
  const tall = await sharp(pages, { join: { across: 1 } })
    .raw()
    .toBuffer();
  const path = join(folder, 'pages.tif');
  await sharp(tall, { raw: { width: 96, height: 160, channels: 3, pageHeight: 80 } })
    .tiff()
    .toFile(path);
  const { id } = (await http.post('/api/jobs').send({ name: 'Paged' })).body as { id: string };
  await http.post(`/api/jobs/${id}/files?role=frame`).attach('file', path);
  const paged = await until(
    async () => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body),
    ({ pictures }) => pictures.length === 2 && pictures.every((p) => p.status === 'ready'),
  );
  expect(paged.pictures.map((p) => p.fileName)).toEqual(['pages page 1.tif', 'pages page 2.tif']);
});
