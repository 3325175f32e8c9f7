// The log over HTTP: counts, lessons, what is remembered of jobs that are gone, and a thousand jobs.
import { FULL_SIZE } from '@blendrak/core/cells';
import { z } from 'zod';
import {
  jobSchema,
  lessonSchema,
  logSchema,
  problemSchema,
  timeLogSchema,
  type Finding,
  type Lesson,
  type Log,
} from '@blendrak/contract';
import { openHttp } from '../testing/openHttp';
import { plainFinding, recordMerge } from '../testing/plainMerge';

const { services, http, close } = openHttp();
afterAll(close);

const log = async (by = 'kind'): Promise<Log> => logSchema.parse((await http.get(`/api/log?by=${by}`)).body);
const lessons = async (): Promise<Lesson[]> => z.array(lessonSchema).parse((await http.get('/api/log/lessons')).body);

function inspectedJob(mergeId: string, ...findings: Partial<Finding>[]): string {
  const jobId = recordMerge(services, mergeId, 3, 1024, {
    grain: null,
    inside: null,
    working: FULL_SIZE,
    surveys: {},
    yardsticks: {},
  });
  findings.forEach((part, k) =>
    services.storage.findings.insert({ ...plainFinding(mergeId, `${mergeId}-${k}`), frames: FRAMES, ...part }, k),
  );
  for (const [k, { decision = 'open' }] of findings.entries())
    services.storage.findings.decide(`${mergeId}-${k}`, decision, '', 1);
  return jobId;
}

const FRAMES = [0, 1, 2].map(() => ({
  ...{ sharpness: 1, difference: 0, predictedError: 0, coverage: 1, shownShare: 0.3 },
}));
const gapBehind = (frame: number): Partial<Finding> => ({
  defect: 'focus-gap',
  measurements: { frameBefore: { value: frame, unit: 'index' } },
});

it('of no jobs says that there is nothing, and what it is asked that it does not know', async () => {
  expect(await log()).toEqual({ grouping: 'kind', groups: [], months: [], inspected: 0, jobs: 0 });
  expect([await lessons(), (await http.get('/api/log/calibrations')).body]).toEqual([[], []]);
  const strange = await http.get('/api/log?by=weather');
  expect([strange.status, problemSchema.parse(strange.body).detail]).toEqual([400, expect.stringContaining('by')]);
});

it('counts jobs and findings that are defects, and draws lessons that are taken, refused and opened again', async () => {
  inspectedJob('a', { defect: 'halo' }, { defect: 'halo', decision: 'repaired' }, gapBehind(2));
  inspectedJob('b', gapBehind(1), { defect: 'halo', decision: 'not-a-defect' });
  recordMerge(services, 'uninspected');
  const { groups, inspected, jobs, months } = await log();
  expect([inspected, jobs, months.map((m) => [m.jobs, m.findings])]).toEqual([2, 3, [[2, 4]]]);
  expect(groups[0]!.cells.map((c) => [c.defect, c.jobs, c.findings, c.repaired])).toEqual([
    ['focus-gap', 2, 2, 0],
    ['halo', 1, 2, 1],
  ]);
  // Two of two is not certain to be all.
  expect(groups[0]!.cells[0]!.share.low).toBeCloseTo(0.342, 3);
  // Behind the last of three frames the series ended too soon; behind the second a slice is missing.
  expect((await lessons()).map((l) => [l.id, l.jobs.length, l.state])).toEqual([
    ['focus-stack:beyond-the-end', 1, 'open'],
    ['focus-stack:between-slices', 1, 'open'],
  ]);
  await http.put('/api/log/lessons/focus-stack:beyond-the-end').send({ state: 'taken' });
  expect((await lessons())[0]!.state).toBe('taken');
  await http.put('/api/log/lessons/focus-stack:beyond-the-end').send({ state: 'open' });
  expect((await lessons())[0]!.state).toBe('open');
  const unknown = await http.put('/api/log/lessons/nothing').send({ state: 'taken' });
  expect([unknown.status, problemSchema.parse(unknown.body).detail]).toEqual([
    404,
    expect.stringContaining('no lesson'),
  ]);
});

it('what was found in a job that is removed stays counted', async () => {
  const jobId = inspectedJob('gone', { defect: 'dust' });
  const before = await log();
  expect((await http.delete(`/api/jobs/${jobId}`)).status).toBe(204);
  const after = await log();
  expect([after.groups, after.inspected, after.jobs]).toEqual([before.groups, before.inspected, before.jobs - 1]);
});

it('what people say of how a job was shot is kept, and counted by, also when the job is gone', async () => {
  const jobId = inspectedJob('said', { defect: 'ghost' });
  const said = { support: ' Hand ', place: 'Cliff', light: '' };
  const changed = await http.patch(`/api/jobs/${jobId}`).send({ circumstances: said });
  expect(jobSchema.parse(changed.body)).toMatchObject({
    circumstances: { support: 'Hand', place: 'Cliff', light: '' },
    viewing: { kind: 'screen' },
  });
  const nothing = await http.patch(`/api/jobs/${jobId}`).send({});
  expect([nothing.status, problemSchema.parse(nothing.body).detail]).toEqual([
    400,
    expect.stringContaining('at least'),
  ]);
  const names = async (by: string): Promise<string[]> => (await log(by)).groups.map((g) => g.name);
  expect(await names('support')).toContain('hand');
  await http.delete(`/api/jobs/${jobId}`);
  expect(await names('place')).toContain('cliff');
});

it('time that people spend is added up by stage and defect, outlives its job, and practice is none', async () => {
  const jobId = inspectedJob('timed', { defect: 'halo' });
  const spend = (id: string, body: object) => http.post(`/api/jobs/${id}/time`).send(body);
  await spend(jobId, { stage: 'bench', findingId: 'timed-0', seconds: 40 });
  await spend(jobId, { stage: 'bench', findingId: null, seconds: 5 });
  await spend(jobId, { stage: 'finish', findingId: null, seconds: 20 });
  expect((await spend('nobody', { stage: 'bench', findingId: null, seconds: 5 })).status).toBe(404);
  const strange = await spend(jobId, { stage: 'bench', findingId: null, seconds: -3 });
  expect([strange.status, problemSchema.parse(strange.body).detail]).toEqual([400, expect.stringContaining('seconds')]);
  await http.delete(`/api/jobs/${jobId}`);
  expect(timeLogSchema.parse((await http.get('/api/log/time')).body)).toEqual({
    stages: [
      { stage: 'bench', seconds: 45, jobs: 1 },
      { stage: 'finish', seconds: 20, jobs: 1 },
    ],
    defects: [{ defect: 'halo', seconds: 40, jobs: 1 }],
  });
});

it('counts a thousand jobs in no more time for each than a hundred', async () => {
  const record = (from: number, to: number): void =>
    services.storage.transaction(() => {
      for (let k = from; k < to; k++)
        inspectedJob(`many${k}`, { defect: 'halo' }, { defect: 'soft-patch' }, gapBehind(2));
    });
  const before = (await log('lens')).inspected;
  /** The quickest of some answers, ms: a machine that does other things besides is slow now and then. */
  const answered = async (inspected: number): Promise<number> => {
    const took: number[] = [];
    for (let turn = 0; turn < 4; turn++) {
      const began = performance.now();
      expect((await log('lens')).inspected).toBe(inspected);
      took.push(performance.now() - began);
    }
    return Math.min(...took);
  };
  record(0, 100);
  const hundred = await answered(before + 100);
  record(100, 1000);
  // Ten times as many; what grows with their square would take a hundred times as long.
  expect(await answered(before + 1000)).toBeLessThan(25 * hundred);
});
