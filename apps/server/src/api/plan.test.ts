// Planning over HTTP: plans are kept, printed, shot with the simulated camera and compared with what came back.
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import {
  jobPlanSchema,
  jobSchema,
  jobSummarySchema,
  kitSchema,
  measuredStepSchema,
  planSchema,
  problemSchema,
  testFrameSchema,
  type PlanSheetRecord,
} from '@blendrak/contract';
import { bracket, focus } from '../../../../packages/core/src/testing/plans';
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

const named = { name: 'Bench camera' };
const sheet: PlanSheetRecord = {
  kind: 'focus-stack',
  stepScale: [],
  notes: 'mind the glass',
  cautions: ['flash'],
  // The lamp's gear train, as the camera's menu gives its place, in three slices and a bit.
  request: {
    ...focus,
    camera: { ...named, sensorWidthMm: 23.6, sensorHeightMm: 17.7, pixelsWide: 4000, pixelsHigh: 3000 },
    lens: { ...focus.lens, name: '60 mm macro' },
    nearestMm: 300,
    farthestMm: 330,
    accepted: { by: 'pixels', pixels: 6 },
    focusMm: null,
  },
};
const problemOf = (body: unknown): string => problemSchema.parse(body).detail;

it('keeps a plan, changes it, lists it, removes it', async () => {
  const made = planSchema.parse((await http.post('/api/plans').send({ name: 'Lamp', sheet })).body);
  const changed = await http.put(`/api/plans/${made.id}`).send({ name: 'Lamp, again', sheet });
  expect(planSchema.parse(changed.body).name).toBe('Lamp, again');
  expect((await http.get(`/api/plans/${made.id}`)).body).toEqual(changed.body);
  expect((await http.delete(`/api/plans/${made.id}`)).status).toBe(204);
  expect((await http.get('/api/plans')).body).toEqual([]);
  expect(problemOf((await http.get(`/api/plans/${made.id}`)).body)).toBe(`There is no plan ${made.id}.`);
});

it('refuses a plan of another form, naming the field', async () => {
  const answer = await http.post('/api/plans').send({ name: 'Lamp', sheet: { ...sheet, cautions: ['dragons'] } });
  expect(answer.status).toBe(400);
  expect(problemOf(answer.body)).toMatch(/^sheet\.cautions\.0: /);
});

it('prints a card of one page, however many frames; a plan with an error has none', async () => {
  const pages = async (over: Partial<typeof sheet.request>): Promise<number> => {
    const body = { name: 'Signal lamp', sheet: { ...sheet, request: { ...sheet.request, ...over } } };
    const { id } = planSchema.parse((await http.post('/api/plans').send(body)).body);
    const answer = await http.get(`/api/plans/${id}/card.pdf`).buffer(true);
    expect(answer.headers['content-type']).toBe('application/pdf');
    expect(answer.headers['content-disposition']).toContain('Signal lamp, capture card.pdf');
    const pdf = (answer.body as Buffer).toString('latin1');
    expect(pdf.startsWith('%PDF-')).toBe(true);
    return (pdf.match(/\/Type \/Page\b(?!s)/g) ?? []).length;
  };
  expect(await pages({})).toBe(1);
  expect(await pages({ farthestMm: 600, accepted: { by: 'pixels', pixels: 1.5 } })).toBe(1);
  const wrong = { name: 'Wrong', sheet: { ...sheet, request: { ...sheet.request, nearestMm: 10 } } };
  const { id } = planSchema.parse((await http.post('/api/plans').send(wrong)).body);
  const answer = await http.get(`/api/plans/${id}/card.pdf`);
  expect(answer.status).toBe(409);
  expect(problemOf(answer.body)).toContain('nearest point: 10 mm');
});

it('shoots a plan into a job that carries it, and finds the set as planned; the step is measured from its files', async () => {
  const plan = planSchema.parse((await http.post('/api/plans').send({ name: 'Gear train', sheet })).body);
  const order = { subject: 'gear-train', longSidePx: 320, seed: 5 };
  const answer = await http.post(`/api/plans/${plan.id}/shoot`).send(order);
  expect(answer.status).toBe(201);
  const { id } = jobSummarySchema.parse(answer.body);
  await until(
    async () => jobSchema.parse((await http.get(`/api/jobs/${id}`)).body),
    ({ work }) => work.length > 1 && work.every((w) => w.status === 'done'),
  );
  const { plan: attached, comparison } = jobPlanSchema.parse((await http.get(`/api/jobs/${id}/plan`)).body);
  expect(attached!.name).toBe('Gear train');
  const rows = Object.fromEntries(comparison.map((r) => [r.what, r]));
  expect(rows['Frames']!.actual).toBe(rows['Frames']!.planned);
  expect(rows['Frames']!.planned).toBeGreaterThan(2);
  for (const what of ['Frames', 'Aperture', 'Focal length', 'Focus step', 'Overlap'])
    expect(`${what} ${rows[what]!.verdict}`).toBe(`${what} as planned`);
  const step = measuredStepSchema.parse((await http.get(`/api/jobs/${id}/focus-step?cocMm=0.0354`)).body);
  expect(step.source).toBe('distances in the files');
  expect(step.stepDioptres).toBeCloseTo(rows['Focus step']!.planned, 1);
  expect(step.fraction).toBeGreaterThan(0.7);
  expect(step.fraction).toBeLessThan(0.9);
});

it('a plan shot with a subject of another kind is refused', async () => {
  const { id } = planSchema.parse((await http.post('/api/plans').send({ name: 'Lamp', sheet })).body);
  const answer = await http.post(`/api/plans/${id}/shoot`).send({ subject: 'cove', longSidePx: 320, seed: 5 });
  expect(answer.status).toBe(422);
  expect(problemOf(answer.body)).toContain('cove is no focus-stack');
});

it('a job keeps the plan as it was attached, after the plan is changed or gone', async () => {
  const body = { name: 'Light', sheet: { kind: 'bracket', request: bracket, notes: '', cautions: [] } };
  const { id } = planSchema.parse((await http.post('/api/plans').send(body)).body);
  const job = jobSummarySchema.parse((await http.post('/api/jobs').send({ name: 'Room' })).body);
  await http.put(`/api/jobs/${job.id}/plan`).send({ planId: id });
  await http.delete(`/api/plans/${id}`);
  expect(jobPlanSchema.parse((await http.get(`/api/jobs/${job.id}/plan`)).body).plan!.name).toBe('Light');
  await http.put(`/api/jobs/${job.id}/plan`).send({ planId: null });
  expect(jobPlanSchema.parse((await http.get(`/api/jobs/${job.id}/plan`)).body).plan).toBeNull();
  expect(problemOf((await http.get(`/api/jobs/${job.id}/focus-step?cocMm=0.01`)).body)).toContain('focal length');
});

it('a kit list starts with entries by format and focal length, and keeps what is changed', async () => {
  const kit = kitSchema.parse((await http.get('/api/kit')).body);
  expect(kit.bodies.length).toBeGreaterThan(3);
  const scale = [{ setting: '4', fraction: 0.6, error: null }];
  const mine = { ...kit, bodies: [{ ...kit.bodies[0]!, name: 'Mine', stepScale: scale }] };
  await http.put('/api/kit').send(mine);
  expect((await http.get('/api/kit')).body).toEqual(mine);
  expect((await http.put('/api/kit').send({ ...mine, bodies: [] })).status).toBe(400);
});

describe('a test frame', () => {
  const ramp = async (low: number, high: number): Promise<Buffer> => {
    const data = Buffer.from(
      Uint8ClampedArray.from({ length: 256 * 64 }, (_, i) => low + ((i % 256) * (high - low)) / 255),
    );
    const exif = {
      IFD2: {
        ExposureTime: '1/60',
        FNumber: '8/1',
        FocalLength: '24/1',
        FocalLengthIn35mmFilm: '36',
        ISOSpeedRatings: '100',
      },
    };
    return sharp(data, { raw: { width: 256, height: 64, channels: 1 } })
      .toColourspace('srgb')
      .withExif(exif)
      .jpeg({ quality: 100 })
      .toBuffer();
  };
  const read = async (file: Buffer, name: string) => http.post('/api/test-frame').attach('file', file, name);

  it('tells its settings, the sensor behind them, and the range of its light', async () => {
    const frame = testFrameSchema.parse((await read(await ramp(30, 230), 'probe.jpg')).body);
    expect(frame.exif!.focalLengthMm).toBe(24);
    // 24 mm that see like 36 mm: two thirds of a diagonal of 43.27 mm, laid along 256 × 64.
    expect(frame.sensorWidthMm).toBeCloseTo(((43.267 * 24) / 36) * (256 / Math.hypot(256, 64)), 2);
    const linear = (code: number): number => ((code / 255 + 0.055) / 1.055) ** 2.4;
    expect(frame.light.rangeEv).toBeCloseTo(Math.log2(linear(230) / linear(30)), 0);
    expect(frame.light.highlightClippedShare).toBe(0);
    expect(frame.light.brightestEv! - frame.light.darkestEv!).toBeCloseTo(frame.light.rangeEv, 6);
  });

  it('says how much is clipped', async () => {
    const frame = testFrameSchema.parse((await read(await ramp(200, 300), 'clipped.jpg')).body);
    expect(frame.light.highlightClippedShare).toBeGreaterThan(0.3);
  });

  it('that is no picture is refused by name', async () => {
    const answer = await read(Buffer.from('not a picture'), 'notes.jpg');
    expect(answer.status).toBe(422);
    expect(problemOf(answer.body)).toContain('notes.jpg');
  });
});
