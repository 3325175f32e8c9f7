// Practice over HTTP: an exercise is made, answered by a learner who sees everything, marked, and counted.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  exerciseSchema,
  jobSummarySchema,
  practiceSchema,
  problemSchema,
  truthSchema,
  type Exercise,
  type LearnersMarkRecord,
} from '@blendrak/contract';
import { z } from 'zod';
import { openHttp } from '../testing/openHttp';
import { until } from '../testing/until';

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
  // What came of it outlives it.
  expect((await http.delete(`/api/practice/exercises/${id}`)).status).toBe(204);
  const after = await practice();
  expect([after.exercises, after.progress]).toEqual([[], progress]);
}, 120_000);
