// Practice over HTTP: an exercise is made, answered by a learner who sees everything, marked, and counted.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import {
  exerciseSchema,
  jobSummarySchema,
  mergeSchema,
  pairsSchema,
  practiceSchema,
  problemSchema,
  truthSchema,
  type Exercise,
  type LearnersMarkRecord,
} from '@blendrak/contract';
import { z } from 'zod';
import { adding, paintStroke } from '../testing/paint';
import { openHttp } from '../testing/openHttp';
import { until } from '../testing/until';

process.env['BLENDRAK_PRACTICE_WIDTH'] = '700';
process.env['BLENDRAK_PRACTICE_SEED'] = '4390';
const { services, http, close } = openHttp();
afterAll(close);

const detail = ({ body }: { body: unknown }): string => problemSchema.parse(body).detail;
const exercise = async (id: string): Promise<Exercise> =>
  exerciseSchema.parse((await http.get(`/api/practice/exercises/${id}`)).body);
const practice = async () => practiceSchema.parse((await http.get('/api/practice')).body);

it('says what cannot be practised, and of nothing yet that it is nothing', async () => {
  const strange = await http.post('/api/practice/exercises').send({ kind: 'panorama', defects: ['focus-gap'] });
  expect([strange.status, detail(strange)]).toEqual([
    400,
    'defects: a panorama has no focus-gap. Choose others, or none for all.',
  ]);
  expect((await http.post('/api/practice/exercises/none/answer').send({ marks: [], tookS: 1 })).status).toBe(404);
  const { exercises, progress } = await practice();
  expect([exercises, progress]).toEqual([[], []]);
});

it('an exercise is made, stands in no list of jobs, and a perfect learner finds and names all of it', async () => {
  const order = { kind: 'bracket', defects: ['clipping', 'misalignment'], level: 0 };
  const { id, state } = exerciseSchema.parse((await http.post('/api/practice/exercises').send(order)).body);
  expect(state).toBe('making');
  const early = await http.post(`/api/practice/exercises/${id}/answer`).send({ marks: [], tookS: 1 });
  expect([early.status, detail(early)]).toEqual([409, 'This exercise is still being made.']);
  const ready = await until(
    () => exercise(id),
    (e) => e.state !== 'making',
  );
  expect(ready).toMatchObject({ state: 'ready', progress: 1, solution: null });
  expect(z.array(jobSummarySchema).parse((await http.get('/api/jobs')).body)).toEqual([]);
  // While it is solved the next one is made, once.
  for (const _twice of [1, 2]) await http.post(`/api/practice/exercises/${id}/begin`);
  const waiting = (await practice()).exercises.filter((e) => e.id !== id);
  expect(waiting.map((e) => [e.state, e.order])).toEqual([['making', ready.order]]);
  await http.delete(`/api/practice/exercises/${waiting[0]!.id}`);
  const truth = truthSchema.parse(
    JSON.parse(readFileSync(join(services.storage.folder.delivered(id), 'truth.json'), 'utf8')),
  );
  const columns = Math.floor(truth.merge.width / truth.cellPx);
  const hidden = truth.faults.filter((f) => !f.natural);
  expect(hidden.map((f) => f.defect)).toEqual(expect.arrayContaining(['clipping']) as unknown);
  const marks = hidden.map(({ runs, defect, donors }): LearnersMarkRecord => {
    const [cell] = runs[Math.floor(runs.length / 2)]!;
    const [x, y] = [(cell % columns) * truth.cellPx, Math.floor(cell / columns) * truth.cellPx];
    return {
      polygon: [
        [x, y],
        [x + 4, y],
        [x + 4, y + 4],
      ],
      defect,
      donor: donors[0] ?? null,
    };
  });
  const answer = { marks, tookS: 42.5 };
  const solved = exerciseSchema.parse((await http.post(`/api/practice/exercises/${id}/answer`).send(answer)).body);
  expect(solved.state).toBe('answered');
  expect(solved.solution!.faults.map((f) => [f.mark !== null, f.isNamed, f.isDonorRight ?? true])).toEqual(
    hidden.map(() => [true, true, true]),
  );
  expect([solved.solution!.invented, solved.solution!.tookS]).toEqual([[], 42.5]);
  const again = await http.post(`/api/practice/exercises/${id}/answer`).send(answer);
  expect([again.status, detail(again)]).toEqual([409, expect.stringContaining('was answered already')]);
  const { progress, places } = await practice();
  const clipping = progress.find((p) => p.defect === 'clipping')!;
  expect([clipping.found, clipping.named, clipping.invented]).toEqual([clipping.shown, clipping.shown, 0]);
  expect(clipping.dPrime).toBeGreaterThan(2);
  expect(places.reduce((sum, p) => sum + p.shown, 0)).toBe(hidden.length);
  // Repair it: painted over from a frame that has it, the clipped places lose their error.
  const repair = () => http.post(`/api/practice/exercises/${id}/repair`);
  const early2 = await repair();
  expect([early2.status, detail(early2)]).toEqual([409, expect.stringContaining('Nothing was repaired yet')]);
  const frames = mergeSchema.parse((await http.get(`/api/merges/${ready.mergeId!}`)).body).frames;
  const clipped = hidden.find((f) => f.defect === 'clipping' && f.donors.length > 0)!;
  const where = clipped.runs.flatMap(([start, n]) => [start, start + n - 1]);
  const [xs, ys] = [
    where.map((c) => (c % columns) * truth.cellPx),
    where.map((c) => Math.floor(c / columns) * truth.cellPx),
  ];
  const [left, right] = [Math.min(...xs) - 6, Math.max(...xs) + truth.cellPx + 6];
  const [top, bottom] = [Math.min(...ys) - 6, Math.max(...ys) + truth.cellPx + 6];
  const points: [number, number][] = [];
  for (let y = top; y <= bottom; y += 10) points.push([left, y], [right, y]);
  const stroke = paintStroke(
    frames.findIndex((f) => f.fileName === clipped.donors[0]),
    points,
    { sizePx: 24 },
  );
  const painted = await http.post(`/api/merges/${ready.mergeId!}/changes`).send(adding('mended-by-hand', stroke));
  expect(painted.ok).toBe(true);
  const scored = exerciseSchema.parse((await repair()).body).solution!.repair!;
  const falls = scored.faults.filter((f) => f.defect === 'clipping').map((f) => f.fall);
  expect(Math.max(...falls)).toBeGreaterThan(0.5);
  expect(scored.damage).toBeLessThan(1);
  // What came of it outlives it.
  expect((await http.delete(`/api/practice/exercises/${id}`)).status).toBe(204);
  const after = await practice();
  expect([after.exercises, after.progress]).toEqual([[], progress]);
}, 120_000);

it('which of two: places in pairs, cut out alike; who sees tells all of them, who guesses one way about half', async () => {
  const order = { task: 'which', kind: 'bracket', defects: ['clipping', 'seam', 'halo'], level: 0 };
  const { id } = exerciseSchema.parse((await http.post('/api/practice/exercises').send(order)).body);
  const ready = await until(
    () => exercise(id),
    (e) => e.state !== 'making',
  );
  expect(ready.state).toBe('ready');
  const at = (path: string): string => `/api/practice/exercises/${id}/${path}`;
  const pairs = pairsSchema.parse((await http.get(at('pairs'))).body);
  expect(pairs.length).toBeGreaterThanOrEqual(3);
  const picture = async (k: number, side: number): Promise<Buffer> =>
    (await http.get(at(`pairs/${k}/${side}.png`)).responseType('blob')).body as Buffer;
  // Whoever has the merge as it should be sees which one differs from it.
  const clean = join(services.storage.folder.delivered(id), 'clean.tif');
  const whole = await sharp(clean).toColourspace('srgb').removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const isFlawless = async (png: Buffer): Promise<boolean> => {
    const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const row = data.subarray(0, info.width * 3);
    for (let from = whole.data.indexOf(row); from >= 0; from = whole.data.indexOf(row, from + 1)) {
      const same = (y: number): boolean =>
        data
          .subarray(y * info.width * 3, (y + 1) * info.width * 3)
          .equals(
            whole.data.subarray(from + y * whole.info.width * 3, from + y * whole.info.width * 3 + info.width * 3),
          );
      if (Array.from({ length: info.height }, (_, y) => y).every(same)) return true;
    }
    return false;
  };
  const choices: (0 | 1)[] = [];
  for (const [k, { width, height }] of pairs.entries()) {
    const both = [await picture(k, 0), await picture(k, 1)];
    const sizes = await Promise.all(both.map(async (p) => sharp(p).metadata()));
    expect(sizes.map((m) => [m.width, m.height])).toEqual([
      [width, height],
      [width, height],
    ]);
    choices.push((await isFlawless(both[0]!)) ? 1 : 0);
  }
  expect((await http.get(at('pairs/99/0.png'))).status).toBe(404);
  const wrongTask = await http.post(at('answer')).send({ marks: [], tookS: 1 });
  expect([wrongTask.status, detail(wrongTask)]).toEqual([409, expect.stringContaining('which of two')]);
  const short = await http.post(at('pairs')).send({ choices: [0], tookS: 1 });
  expect([short.status, detail(short)]).toEqual([400, expect.stringContaining('Accepted: one for each')]);
  const solved = exerciseSchema.parse((await http.post(at('pairs')).send({ choices, tookS: 9 })).body);
  expect(solved.solution!.pairs.map((p) => p.isRight)).toEqual(pairs.map(() => true));
  const told = (await practice()).pairs;
  expect(told.reduce((sum, p) => sum + p.right, 0)).toBe(pairs.length);
  expect(told.every((p) => p.low > 0 && p.high === 1)).toBe(true);
}, 120_000);
