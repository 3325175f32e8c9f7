// From mended picture to delivered one, over HTTP: cut, waivers, signature, lock, delivery and the journal of it all.
import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import sharp from 'sharp';
import {
  finishSchema,
  findingChangesSchema,
  journalEntrySchema,
  problemSchema,
  proposedCutSchema,
  reportSchema,
  workSchema,
  type Finish,
  type JournalEntry,
  type ViewingSettings,
  type Work,
} from '@blendrak/contract';
import { z } from 'zod';
import { adding, paintStroke } from '../testing/paint';
import { openSoftPatchJob } from '../testing/softPatchJob';
import { until } from '../testing/until';

let job: Awaited<ReturnType<typeof openSoftPatchJob>>;
beforeAll(async () => {
  job = await openSoftPatchJob();
});
afterAll(() => job.close());

const at = (path: string): string => `/api/merges/${job.mergeId}/${path}`;
const finish = async (): Promise<Finish> => finishSchema.parse((await job.http.get(at('finish'))).body);
const detail = ({ body }: { body: unknown }): string => problemSchema.parse(body).detail;
const journal = async (query = ''): Promise<JournalEntry[]> =>
  z.array(journalEntrySchema).parse((await job.http.get(`/api/journal?${query}`)).body);

it('a new merge is whole, costs nothing, and what nobody settled or looked at stands against signing it', async () => {
  const { cut, cost, obstacles, signature, reshoot } = await finish();
  expect([cut, cost]).toEqual([
    { turnDeg: 0, crop: null },
    { ofPicture: 0, ofSubject: null },
  ]);
  expect(obstacles.map((o) => [o.kind, o.words, o.waiver])).toEqual([
    ['open', '1 finding that shows is open: 1 soft patch.', null],
    ['unseen', 'The picture was never looked at at full size.', null],
  ]);
  expect([signature, reshoot]).toEqual([null, []]);
});

it('findings that are not seen where the picture will be looked at count as none to settle', async () => {
  const open = async (viewing: ViewingSettings): Promise<number> => {
    await job.http.patch(`/api/jobs/${job.jobId}`).send({ viewing });
    return (await job.job()).summary.openFindings;
  };
  expect(await open({ kind: 'screen' })).toBe(1);
  expect(await open({ kind: 'print', longSideMm: 20, distanceMm: 100_000 })).toBe(0);
  expect(await open({ kind: 'screen' })).toBe(1);
});

it('a crop of a shape is proposed with its cost; one outside the picture is refused with what would be accepted', async () => {
  const square = proposedCutSchema.parse((await job.http.post(at('cut/proposal')).send({ aspect: 1 })).body);
  expect(square.cut.crop).toEqual({ x: 48, y: 0, width: 384, height: 384 });
  expect(square.cost.ofPicture).toBeCloseTo(0.2, 9);
  const outside = await job.http.put(at('cut')).send({ turnDeg: 0, crop: { x: 200, y: 0, width: 384, height: 384 } });
  expect([outside.status, detail(outside)]).toEqual([
    400,
    'crop: 384 × 384 px at (200, 0) lies outside the picture. Accepted: what lies within 480 × 384 px.',
  ]);
  // Turned, the corners of the whole picture are empty.
  const corners = await job.http.put(at('cut')).send({ turnDeg: 2, crop: { x: 0, y: 0, width: 480, height: 384 } });
  expect(detail(corners)).toContain('turned by 2°');
  const turned = proposedCutSchema.parse((await job.http.post(at('cut/proposal')).send({ turnDeg: 2 })).body);
  const kept = finishSchema.parse((await job.http.put(at('cut')).send(turned.cut)).body);
  expect([kept.cut, kept.cost]).toEqual([turned.cut, turned.cost]);
});

it('is not signed while something stands against it; what is waived by name and reason stands no more', async () => {
  const sign = (part: object) => job.http.put(at('signature')).send({ by: 'Ada', verdict: 'deliver', ...part });
  const before = await finish();
  const refused = await sign({ state: before.state });
  expect([refused.status, detail(refused)]).toEqual([409, expect.stringContaining('1 soft patch')]);
  const elsewhere = await job.http
    .post(at('waivers'))
    .send({ kind: 'open', covers: 'something else', by: 'Ada', reason: 'small' });
  expect([elsewhere.status, detail(elsewhere)]).toEqual([409, expect.stringContaining('does not stand')]);
  const nameless = await job.http
    .post(at('waivers'))
    .send({ kind: 'open', covers: before.obstacles[0]!.covers, by: ' ', reason: 'small' });
  expect(nameless.status).toBe(400);
  for (const { kind, covers } of before.obstacles)
    await job.http.post(at('waivers')).send({ kind, covers, by: 'Ada', reason: 'the client knows' });
  expect((await finish()).obstacles.map((o) => o.waiver?.by)).toEqual(['Ada', 'Ada']);
  // Somebody paints in another window meanwhile.
  const { state } = await finish();
  await job.http.post(at('changes')).send(adding('meanwhile', paintStroke(1, [[40, 40]])));
  const late = await sign({ state });
  expect([late.status, detail(late)]).toEqual([409, expect.stringContaining('has changed since you looked at it')]);
  await job.app.repair.settled();
  const wordless = await sign({ state: (await finish()).state, verdict: 'deliver-with-remarks' });
  expect(detail(wordless)).toBe('remarks: say what is to be known.');
  const signed = await sign({ state: (await finish()).state });
  expect(finishSchema.parse(signed.body).signature).toMatchObject({ by: 'Ada', verdict: 'deliver' });
});

it('a signed merge is locked, whoever asks', async () => {
  const { changed } = findingChangesSchema.parse((await job.http.get(at('findings'))).body);
  const answers = await Promise.all([
    job.http.post(at('changes')).send(adding('too-late', paintStroke(1, [[60, 60]]))),
    job.http.patch(`/api/findings/${changed[0]!.id}`).send({ decision: 'reshoot' }),
    job.http.put(at('cut')).send({ turnDeg: 0, crop: null }),
    job.http.post(at('waivers')).send({ kind: 'open', covers: 'x', by: 'Eve', reason: 'none' }),
  ]);
  expect(answers.map((a) => a.status)).toEqual([423, 423, 423, 423]);
  expect(detail(answers[0])).toContain('was signed by Ada');
});

it('is delivered as one ZIP: the cut picture, layers that open elsewhere, masks, reports, and checksums that hold', async () => {
  const strange = await job.http.post(at('delivery')).send({ parts: ['tiff'], pattern: '{client}' });
  expect([strange.status, detail(strange)]).toEqual([
    400,
    'pattern: {client} cannot be filled in. Accepted: {job}, {merge}, {kind}, {date}, {by}.',
  ]);
  const parts = ['tiff', 'jpeg', 'layers', 'masks', 'report', 'pdf'];
  const order = { parts, pattern: '{job}, {by}', longSidePx: 200 };
  const work = workSchema.parse((await job.http.post(at('delivery')).send(order)).body);
  await until(job.job, (j) => j.work.some((w) => w.id === work.id && w.status !== 'queued' && w.status !== 'running'));
  const answer = await job.http.get(`/api/deliveries/${work.id}`).responseType('blob');
  expect(answer.headers['content-disposition']).toContain('Plate, Ada.zip');
  const files = unzipSync(new Uint8Array(answer.body as Buffer));
  expect(Object.keys(files).sort()).toEqual(
    [
      'Plate, Ada, for screens.jpg',
      'Plate, Ada, layers.ora',
      'Plate, Ada, mask of frame2.png.png',
      'Plate, Ada, report.json',
      'Plate, Ada, report.pdf',
      'Plate, Ada.tif',
      'checksums.sha256',
    ].sort(),
  );
  const sums = strFromU8(files['checksums.sha256']!).trim().split('\n');
  for (const line of sums) {
    const [sum, name] = [line.slice(0, 64), line.slice(66)];
    expect(createHash('sha256').update(files[name]!).digest('hex')).toBe(sum);
  }
  expect(sums).toHaveLength(6);
  const { cut } = await finish();
  const picture = await sharp(files['Plate, Ada.tif']).metadata();
  expect([picture.width, picture.height, picture.depth]).toEqual([cut.crop!.width, cut.crop!.height, 'ushort']);
  expect((await sharp(files['Plate, Ada, for screens.jpg']).metadata()).width).toBe(200);
  const layers = unzipSync(files['Plate, Ada, layers.ora']!);
  // The type comes first and unpacked, so that programs know the file by its beginning.
  expect(strFromU8(files['Plate, Ada, layers.ora']!.subarray(30, 54))).toBe('mimetypeimage/openraster');
  expect(strFromU8(layers['stack.xml']!)).toContain('A stroke with frame2.png');
  const layer = await sharp(layers['data/layer1.png']).metadata();
  expect([layer.channels, layer.hasAlpha]).toEqual([4, true]);
  expect(await flattened(layers)).toBeLessThan(2);
  expect(strFromU8(files['Plate, Ada, report.pdf']!.subarray(0, 5))).toBe('%PDF-');
  const report = reportSchema.parse(JSON.parse(strFromU8(files['Plate, Ada, report.json']!)));
  expect(report.finish).toMatchObject({ cut, signature: { by: 'Ada' }, invented: [] });
  expect(report.repairs).toEqual([
    { words: 'A stroke with frame2.png', donor: 'frame2.png', bbox: expect.any(Array) as number[] },
  ]);
});

it('is delivered into a folder, sharpened for output where that is asked for; what is there is not overwritten', async () => {
  const order = { parts: ['tiff', 'print', 'jpeg'], pattern: '{job} on paper', sharpen: true, into: 'folder' };
  const deliver = async (): Promise<Work> => {
    const { id } = workSchema.parse((await job.http.post(at('delivery')).send(order)).body);
    const done = await until(job.job, (j) => j.work.some((w) => w.id === id && ['done', 'failed'].includes(w.status)));
    return done.work.find((w) => w.id === id)!;
  };
  const first = await deliver();
  const folder = join(job.services.storage.folder.deliveries, 'Plate on paper');
  expect([first.status, first.message]).toEqual(['done', `delivered into ${folder}`]);
  const path = (name: string): string => join(folder, name);
  expect(readdirSync(folder).sort()).toEqual(
    [
      'Plate on paper, sharpened for output.tif',
      'Plate on paper, sharpened for screens.jpg',
      'Plate on paper.tif',
      'checksums.sha256',
    ].sort(),
  );
  const sharpened = path('Plate on paper, sharpened for output.tif');
  expect((await sharp(sharpened).metadata()).depth).toBe('ushort');
  const sharpness = async (file: string): Promise<number> => (await sharp(file).stats()).sharpness;
  expect(await sharpness(sharpened)).toBeGreaterThan(await sharpness(path('Plate on paper.tif')));
  expect((await job.http.get(`/api/deliveries/${first.id}`)).status).toBe(409);
  const second = await deliver();
  expect([second.status, second.error]).toEqual(['failed', expect.stringContaining('nothing is overwritten')]);
  expect(readdirSync(job.services.storage.folder.deliveries)).toEqual(['Plate on paper']);
});

/** Largest difference, of 255, between the layers laid over each other by another program and the merged picture. */
async function flattened(layers: Record<string, Uint8Array>): Promise<number> {
  const xml = strFromU8(layers['stack.xml']!);
  const [, left, top] = /layer1\.png" x="(\d+)" y="(\d+)"/.exec(xml)!;
  const over = { input: await sharp(layers['data/layer1.png']).png().toBuffer(), left: Number(left), top: Number(top) };
  const [ours, theirs] = await Promise.all([
    sharp(layers['mergedimage.png']).removeAlpha().toColourspace('srgb').raw().toBuffer(),
    sharp(layers['data/layer0.png']).composite([over]).removeAlpha().toColourspace('srgb').raw().toBuffer(),
  ]);
  return ours.reduce((worst, v, i) => Math.max(worst, Math.abs(v - theirs[i]!)), 0);
}

it('opened again it can be changed, is not delivered before it is signed again, and what stood against it is asked anew', async () => {
  expect(finishSchema.parse((await job.http.delete(at('signature'))).body).signature).toBeNull();
  expect((await job.http.delete(at('signature'))).status).toBe(409);
  expect((await job.http.post(at('delivery')).send({ parts: ['tiff'] })).status).toBe(409);
  const { changed } = findingChangesSchema.parse((await job.http.get(at('findings'))).body);
  await job.http.patch(`/api/findings/${changed[0]!.id}`).send({ decision: 'reshoot' });
  const { obstacles, reshoot } = await finish();
  expect(obstacles.map((o) => [o.kind, o.waiver !== null])).toEqual([
    ['reshoot', false],
    ['unseen', true],
  ]);
  expect(reshoot).toEqual(['frame4.png again, from the same place with the same settings: it shows a soft patch.']);
});

it('the journal has it all, is searched, and is taken away as a table that no spreadsheet runs', async () => {
  const kinds = (await journal()).map((e) => e.kind).reverse();
  expect(kinds).toEqual([
    'made',
    'processed',
    'waived',
    'waived',
    'signed',
    'delivered',
    'delivered',
    'reopened',
    'decided',
  ]);
  expect((await journal('text=SIGNED:')).map((e) => e.kind)).toEqual(['signed']);
  expect((await journal('kind=processed'))[0]!.tookS).toBeGreaterThan(0);
  const noted = await job.http.post('/api/journal').send({ jobId: job.jobId, words: '=HYPERLINK("x"), "quoted"' });
  expect(journalEntrySchema.parse(noted.body)).toMatchObject({ kind: 'note', jobName: 'Plate' });
  const csv = (await job.http.get('/api/journal.csv')).text.split('\r\n');
  expect([csv[0], csv.length]).toEqual(['at,jobName,kind,words,tookS', 12]);
  expect(csv[1]).toContain(`"'=HYPERLINK(""x""), ""quoted"""`);
  await job.http.delete(`/api/jobs/${job.jobId}`);
  const [removed] = await journal();
  expect([removed!.kind, removed!.jobName]).toEqual(['removed', 'Plate']);
});
