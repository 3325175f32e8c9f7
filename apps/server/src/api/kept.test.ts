// What was acknowledged is kept, what was refused leaves nothing, and two people at one merge lose nothing of each other's.
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import {
  findingChangesSchema,
  jobSchema,
  newsPageSchema,
  problemSchema,
  operationChangesSchema,
  type Job,
  type NamedChange,
  type OperationChanges,
} from '@blendrak/contract';
import { shootMenu } from '../services/camera';
import { heldFiles } from '../testing/heldFiles';
import { localServices, temporaryFolder } from '../testing/inProcess';
import { plainFinding, recordMerge } from '../testing/plainMerge';
import { adding, asking, paintStroke } from '../testing/paint';
import { until } from '../testing/until';
import { makeApp } from './makeApp';

const { path, clean } = temporaryFolder();
const services = localServices(join(path, 'data'));
const { storage } = services;
const app = makeApp(services, null, null);
const server = app.express.listen(0, '127.0.0.1');
const http = request(server);
const picture = join(path, 'frame.png');

beforeAll(async () => {
  if (!server.listening) await new Promise((done) => server.once('listening', done));
  await sharp({ create: { width: 900, height: 700, channels: 3, background: '#667' } })
    .png()
    .toFile(picture);
});
afterAll(async () => {
  await app.queue.stop();
  await app.repair.settled();
  server.close();
  await Promise.all([services.pool.close(), services.quick.close()]);
  storage.close();
  clean();
});

const newJob = async (name: string): Promise<string> =>
  ((await http.post('/api/jobs').send({ name })).body as { id: string }).id;
const open = async (id: string): Promise<Job> => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body);
const words = ({ body }: { body: unknown }): string => problemSchema.parse(body).detail;
const lying = (): string[] => readdirSync(storage.folder.scratch);
const originals = (): number => readdirSync(join(storage.folder.root, 'originals')).length;

describe('uploads', () => {
  it('for a job or in a role that is not there are refused before they are received, and leave nothing', async () => {
    const before = originals();
    expect((await http.post('/api/jobs/none/files').attach('file', picture)).status).toBe(404);
    const id = await newJob('Role');
    const role = await http.post(`/api/jobs/${id}/files?role=moon`).attach('file', picture);
    expect(role.status).toBe(400);
    expect(words(role)).toContain('Accepted: frame, merge');
    expect((await http.post('/api/cards/none/files').attach('file', picture)).status).toBe(404);
    const two = await http.post(`/api/jobs/${id}/files`).attach('file', picture).attach('file', picture);
    expect(two.status).toBe(400);
    expect((await http.post(`/api/jobs/${id}/files`).attach('other', picture)).status).toBe(400);
    await until(
      async () => lying(),
      (files) => files.length === 0,
    );
    expect(originals()).toBe(before);
  });

  it('that end in the middle leave nothing', async () => {
    const id = await newJob('Half');
    const { port } = server.address() as { port: number };
    const headers = { 'content-type': 'multipart/form-data; boundary=b', 'content-length': 1e6 };
    const sent = httpRequest({ port, host: '127.0.0.1', method: 'POST', path: `/api/jobs/${id}/files`, headers });
    sent.on('error', () => undefined);
    sent.write('--b\r\nContent-Disposition: form-data; name="file"; filename="half.png"\r\n\r\n');
    sent.write(Buffer.alloc(200_000));
    await until(
      async () => lying(),
      (files) => files.length > 0,
    );
    sent.destroy();
    await until(
      async () => lying(),
      (files) => files.length === 0,
    );
    expect((await open(id)).pictures).toEqual([]);
  });

  it('larger than what is free are refused before they are received', async () => {
    const id = await newJob('Large');
    const free = jest.spyOn(storage.folder, 'freeBytes').mockReturnValue(1e6);
    const answer = await http.post(`/api/jobs/${id}/files`).attach('file', picture);
    free.mockRestore();
    expect(answer.status).toBe(507);
    expect(words(answer)).toMatch(/^The disk is full: this upload needs .* What was acknowledged before is kept\.$/);
  });

  it('into a job whose set is still to be photographed stay in it', async () => {
    const usual = shootMenu().find((m) => m.subject === 'signal-flags')!;
    const order = {
      name: 'Waiting',
      subject: 'signal-flags',
      seed: 3,
      frames: 2,
      longSidePx: 320,
      settings: usual.settings,
      format: 'jpeg',
      bits: 8,
      separator: false,
      mergeElsewhere: false,
    };
    const { id } = (await http.post('/api/camera/shoot').send(order)).body as { id: string };
    expect((await http.post(`/api/jobs/${id}/files`).attach('file', picture)).status).toBe(201);
    const job = await until(
      () => open(id),
      (j) => j.work.every((w) => w.status === 'done') && j.pictures.length > 2,
    );
    expect(job.pictures.map((p) => [p.fileName, p.status]).sort()).toEqual([
      ['frame.png', 'ready'],
      ['frame01.jpg', 'ready'],
      ['frame02.jpg', 'ready'],
    ]);
    expect(existsSync(storage.folder.delivered(id))).toBe(true);
    expect((await http.delete(`/api/jobs/${id}`)).status).toBe(204);
    expect(existsSync(storage.folder.delivered(id))).toBe(false);
  });
});

it('a job that is deleted while it is read gives its space back at once', async () => {
  const before = originals();
  const id = await newJob('Deleted');
  const large = join(path, 'large.png');
  await sharp({ create: { width: 6000, height: 4000, channels: 3, background: '#667' } })
    .png()
    .toFile(large);
  await http.post(`/api/jobs/${id}/files`).attach('file', large);
  await until(
    () => open(id),
    (j) => j.work.some((w) => w.status === 'running'),
  );
  expect((await http.delete(`/api/jobs/${id}`)).status).toBe(204);
  await until(
    async () => lying(),
    (files) => files.length === 0,
  );
  expect([originals(), storage.folder.freeBytes() > 0]).toEqual([before, true]);
  // No file that is gone stays open in any thread of this process, once what read it has noticed.
  await until(
    async () => heldFiles().filter((f) => f.startsWith(path) && f.endsWith('(deleted)')),
    (files) => files.length === 0,
  );
});

it('a frame uploaded to a card outlives the card in the jobs made of it', async () => {
  const { id } = (
    (await http.post('/api/cards').send({ name: 'Card', folder: null })).body as { summary: { id: string } }
  ).summary;
  await http.post(`/api/cards/${id}/files`).attach('file', picture);
  await http.post(`/api/cards/${id}/sort`);
  const sorted = await until(
    async () =>
      (await http.get(`/api/cards/${id}`)).body as { sorting: { sets: { id: string }[]; unassigned: string[] } },
    (c) => c.sorting !== null,
  );
  const [file] = storage.cards.files(id);
  const set = sorted.sorting.sets[0];
  // A lone frame may stand unassigned: it is put into a set by hand then.
  if (!set) {
    const made = { id: 's1', kind: 'focus-stack', files: [file!.id], labels: {}, leftOut: [], why: '', confidence: 1 };
    await http
      .put(`/api/cards/${id}/sorting`)
      .send({ sets: [{ ...made, nested: [], checks: [], overlaps: [], jobId: null }], separators: [], unassigned: [] });
  }
  const job = (await http.post(`/api/cards/${id}/sets/${set?.id ?? 's1'}/job`)).body as { id: string };
  expect((await http.delete(`/api/cards/${id}`)).status).toBe(204);
  const read = await until(
    () => open(job.id),
    (j) => j.pictures.every((p) => p.status !== 'waiting'),
  );
  expect(read.pictures.map((p) => p.status)).toEqual(['ready']);
});

describe('two people at one merge', () => {
  const stroke = paintStroke(1);
  let jobId = '';
  const changes = (body: unknown): OperationChanges => operationChangesSchema.parse(body);
  const send = (mergeId: string, change: NamedChange, who: string, since = -1) =>
    http
      .post(`/api/merges/${mergeId}/changes?since=${since}`)
      .set({ 'X-Blendrak-Page': `page of ${who}`, 'X-Blendrak-Person': who })
      .send(change);
  const paint = (mergeId: string, id: string, who: string, since = -1) => send(mergeId, adding(id, stroke), who, since);
  const inForce = (mergeId: string): string[] => storage.operations.listByMerge(mergeId).map((o) => o.id);

  beforeAll(() => {
    jobId = recordMerge(services, 'mergeA');
    recordMerge(services, 'mergeB');
    storage.findings.insert(plainFinding('mergeA', 'finding'), 0);
  });

  it('an id that names a change of another merge, or another change, is refused, not dropped', async () => {
    expect((await paint('mergeA', 'stroke-first', 'one')).status).toBe(201);
    const other = await paint('mergeB', 'stroke-first', 'one');
    expect(other.status).toBe(409);
    expect(words(other)).toContain('stroke-first names another change already. Accepted: an id of its own');
    const wider = await send('mergeA', adding('stroke-first', paintStroke(1, [[20, 20]], { sizePx: 11 })), 'one');
    expect(wider.status).toBe(409);
    const undo = await send('mergeA', { id: 'stroke-first', change: { kind: 'undo' } }, 'one');
    expect(undo.status).toBe(409);
    expect((await paint('mergeA', 'stroke-first', 'one')).status).toBe(201);
    expect(inForce('mergeA')).toEqual(['stroke-first']);
  });

  it('a stroke is answered with what changed since, not with all operations again', async () => {
    const many = Array.from({ length: 2000 }, (_, i): [number, number] => [i % 900, (i * 7) % 900]);
    for (let k = 0; k < 20; k++) await send('mergeB', adding(`stroke-long${k}`, paintStroke(1, many)), 'one');
    const { revision } = changes((await http.get('/api/merges/mergeB/operations')).body);
    const answer = await paint('mergeB', 'stroke-short', 'one', revision);
    expect(answer.text.length).toBeLessThan(500);
    expect(changes(answer.body).changed.map((s) => s.id)).toEqual(['stroke-short']);
  });

  it('each takes back what is their own, is told what the other did, and finds it where it was', async () => {
    const { seq } = newsPageSchema.parse((await http.get('/api/news')).body);
    await paint('mergeA', 'stroke-second', 'one');
    await paint('mergeA', 'stroke-of-two', 'two');
    const undone = changes((await send('mergeA', asking({ kind: 'undo' }), 'one')).body);
    expect(undone).toMatchObject({ gone: ['stroke-second'], undoable: 1, redoable: 1 });
    expect(inForce('mergeA')).toEqual(['stroke-first', 'stroke-of-two']);
    const nothing = changes((await send('mergeA', asking({ kind: 'redo' }), 'two')).body);
    expect(nothing).toMatchObject({ undoable: 1, redoable: 0 });
    await send('mergeA', asking({ kind: 'redo' }), 'one');
    expect(inForce('mergeA')).toEqual(['stroke-first', 'stroke-second', 'stroke-of-two']);
    const { news } = newsPageSchema.parse((await http.get(`/api/news?since=${seq}`)).body);
    const told = news!.filter((n) => n.topic === 'operations').map((n) => [n.id === jobId, n.mergeId, n.by, n.what]);
    expect(told).toEqual([
      [true, 'mergeA', 'page of one', 'A stroke with frame2.png was painted'],
      [true, 'mergeA', 'page of two', 'A stroke with frame2.png was painted'],
      [true, 'mergeA', 'page of one', 'A stroke with frame2.png was taken back'],
      [true, 'mergeA', 'page of one', 'A stroke with frame2.png was brought back'],
    ]);
  });

  it('an undo or redo whose answer was lost can be sent again', async () => {
    const undo = asking({ kind: 'undo' });
    for (let k = 0; k < 3; k++) await send('mergeA', undo, 'one');
    expect(inForce('mergeA')).toEqual(['stroke-first', 'stroke-of-two']);
    const redo = asking({ kind: 'redo' });
    for (let k = 0; k < 3; k++) await send('mergeA', redo, 'one');
    expect(inForce('mergeA')).toEqual(['stroke-first', 'stroke-second', 'stroke-of-two']);
  });

  it('an operation is switched off, moved, named and removed; each of these is taken back by undo', async () => {
    const patch = (change: object) =>
      send('mergeA', asking({ kind: 'patch', operationId: 'stroke-second', patch: change }), 'one');
    const second = () => storage.operations.find('stroke-second')!;
    const { order } = second().operation;
    await patch({ enabled: false });
    await patch({ order: 0.5, name: 'rim' });
    expect(inForce('mergeA')).toEqual(['stroke-second', 'stroke-first', 'stroke-of-two']);
    await send('mergeA', asking({ kind: 'remove', operationId: 'stroke-second' }), 'one');
    expect(second().fields).toEqual({ live: false, enabled: false, order: 0.5, name: 'rim', variant: '', mask: null });
    const gone = await patch({ name: 'lost' });
    expect([gone.status, words(gone)]).toEqual([
      404,
      'operationId: this merge has no operation stroke-second (any more).',
    ]);
    for (let k = 0; k < 3; k++) await send('mergeA', asking({ kind: 'undo' }), 'one');
    expect(second().fields).toEqual({ live: true, enabled: true, order, name: '', variant: '', mask: null });
  });

  it('what somebody else has changed since is not taken back by undo', async () => {
    await send('mergeA', asking({ kind: 'patch', operationId: 'stroke-first', patch: { name: 'mine' } }), 'one');
    await send('mergeA', asking({ kind: 'patch', operationId: 'stroke-first', patch: { name: 'yours' } }), 'two');
    await send('mergeA', asking({ kind: 'undo' }), 'one');
    expect(storage.operations.find('stroke-first')!.fields.name).toBe('yours');
    // What undo took back instead is one’s own change before it.
    expect(inForce('mergeA')).toEqual(['stroke-first', 'stroke-of-two']);
  });

  it('undo with nothing to take back changes nothing', async () => {
    recordMerge(services, 'mergeC');
    const answer = changes((await send('mergeC', asking({ kind: 'undo' }), 'one')).body);
    expect(answer).toEqual({ revision: 0, changed: [], gone: [], undoable: 0, redoable: 0 });
  });

  it('findings are asked for by what changed since', async () => {
    const all = findingChangesSchema.parse((await http.get('/api/merges/mergeA/findings')).body);
    expect(all.changed.map((f) => f.decision)).toEqual(['open']);
    const answer = await http.patch(`/api/findings/finding?since=${all.revision}`).send({ decision: 'reshoot' });
    const decided = findingChangesSchema.parse(answer.body);
    expect([decided.revision, decided.changed[0]!.decision]).toEqual([all.revision + 1, 'reshoot']);
    const later = await http.get(`/api/merges/mergeA/findings?since=${decided.revision}`);
    expect(later.body).toEqual({ revision: decided.revision, changed: [] });
  });
});

it('news too old to be kept are not made up', async () => {
  for (let k = 0; k < 2100; k++) services.events.publish({ topic: 'job', id: 'x' });
  expect(newsPageSchema.parse((await http.get('/api/news?since=1')).body).news).toBeNull();
  expect(newsPageSchema.parse((await http.get('/api/news?since=999999')).body).news).toBeNull();
});

it('a file that nobody foresaw says so without the words of a library', async () => {
  const id = await newJob('Odd');
  writeFileSync(join(path, 'odd.png'), Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex'));
  await http.post(`/api/jobs/${id}/files`).attach('file', join(path, 'odd.png'));
  const { pictures } = await until(
    () => open(id),
    (j) => j.pictures.every((p) => p.status === 'failed'),
  );
  expect(pictures[0]!.error).toMatch(
    /^odd\.png: (this is not a picture|the picture data is damaged|the file ends early)/,
  );
});
