// What no frame shows is filled from around it when that is asked for: the strip an own program left black along an edge.
import { join } from 'node:path';
import sharp from 'sharp';
import {
  findingChangesSchema,
  jobSchema,
  operationChangesSchema,
  problemSchema,
  reportSchema,
  type Finding,
  type Job,
  type Operation,
} from '@blendrak/contract';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import { blurredSeries } from '../../../../packages/core/src/testing/stack';
import { asking } from '../testing/paint';
import { openHttp } from '../testing/openHttp';
import { plainFinding } from '../testing/plainMerge';
import { until } from '../testing/until';

const [WIDTH, HEIGHT, STRIP] = [480, 384, 16];
const { folder, services, http, close } = openHttp();
afterAll(close);

let mergeId = '';
const job = async (id: string): Promise<Job> => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body);
const findings = async (): Promise<Finding[]> =>
  findingChangesSchema.parse((await http.get(`/api/merges/${mergeId}/findings`)).body).changed;
const operations = async (): Promise<Operation[]> =>
  operationChangesSchema.parse((await http.get(`/api/merges/${mergeId}/operations`)).body).changed;
const border = async (): Promise<Finding> => (await findings()).find((f) => f.defect === 'border')!;
const mean = async (name: string): Promise<number> => {
  const answer = await http.get(`/iiif/${name}/100,2,200,8/max/0/default.png`).responseType('blob');
  return (await sharp(answer.body as Buffer).stats()).channels[0]!.mean;
};

beforeAll(async () => {
  const planes = blurredSeries(WIDTH, HEIGHT, 31, 1, [0, 1, 2]);
  const { id } = (await http.post('/api/jobs').send({ name: 'Edge' })).body as { id: string };
  const merge = { ...planes[1]!, data: planes[1]!.data.map((v, i) => (i < STRIP * WIDTH ? 0 : v)) };
  for (const [k, plane] of [...planes, merge].entries()) {
    const path = join(folder, k < planes.length ? `frame${k + 1}.png` : 'elsewhere.png');
    await sharp(greyPixels(plane, 8).data as Uint8Array, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(path);
    await http.post(`/api/jobs/${id}/files?role=${k < planes.length ? 'frame' : 'merge'}`).attach('file', path);
  }
  await until(
    () => job(id),
    (j) => j.pictures.every((p) => p.status === 'ready'),
  );
  await http.post(`/api/jobs/${id}/process`).send({});
  const done = await until(
    () => job(id),
    (j) => j.summary.mergeId !== null,
  );
  mergeId = done.summary.mergeId!;
});

it('an edge is filled in pieces, in the light around it, and is said to be invented', async () => {
  const { id } = await border();
  expect(await mean(`r-${mergeId}`)).toBeLessThan(8);
  const filled = await http.post(`/api/merges/${mergeId}/fills`).send({ findingId: id });
  expect(filled.status).toBe(201);
  const made = await operations();
  expect(made).toHaveLength(1);
  const pieces = [made[0]!, ...made[0]!.also!];
  expect(pieces.length).toBeGreaterThanOrEqual(2);
  // Nothing of it comes from the strip itself, or from beyond the picture.
  for (const { donor, shift } of pieces) expect([donor, shift![1] > STRIP - 4]).toEqual([null, true]);
  const below = (
    await sharp(join(folder, 'frame2.png')).extract({ left: 100, top: 20, width: 200, height: 30 }).stats()
  ).channels[0]!.mean;
  expect(Math.abs((await mean(`r-${mergeId}`)) - below)).toBeLessThan(20);
  expect((await border()).decision).toBe('repaired');
  const report = reportSchema.parse((await http.get(`/api/merges/${mergeId}/report.json`)).body);
  expect(report.repairs!.map((r) => r.words)).toContain('A fill from around (invented)');
});

it('a fill is taken back as a whole, and made again', async () => {
  const filled = await mean(`r-${mergeId}`);
  await http.post(`/api/merges/${mergeId}/changes`).send(asking({ kind: 'undo' }));
  expect(await operations()).toEqual([]);
  expect(await mean(`r-${mergeId}`)).toBeLessThan(8);
  await http.post(`/api/merges/${mergeId}/changes`).send(asking({ kind: 'redo' }));
  expect(await mean(`r-${mergeId}`)).toBeCloseTo(filled, 1);
});

it('is refused where frames show what should be there, and a frame is nudged by a few px at most', async () => {
  services.storage.findings.insert({ ...plainFinding(mergeId, 'soft-one') }, 99);
  const refused = await http.post(`/api/merges/${mergeId}/fills`).send({ findingId: 'soft-one' });
  expect([refused.status, problemSchema.parse(refused.body).detail]).toEqual([
    409,
    'findingId: a soft patch is not filled, since frames show what should be there. Accepted: border, dust.',
  ]);
  expect((await http.post(`/api/merges/${mergeId}/fills`).send({ findingId: 'nobody' })).status).toBe(404);
  const [operation] = await operations();
  const { shape } = operation!;
  const wrong = await http.post(`/api/merges/${mergeId}/changes`).send({
    id: 'shifted-frame',
    change: { kind: 'add', operation: { kind: 'paint', donor: 0, shape, shift: [10, 0] } },
  });
  expect([wrong.status, problemSchema.parse(wrong.body).detail]).toEqual([400, expect.stringContaining('donor null')]);
});
