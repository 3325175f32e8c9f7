// What many jobs tell: counted by hand, and against published values.
import {
  breathingPerDioptre,
  countFaults,
  drawLessons,
  gatherCalibrations,
  takeLesson,
  wilson,
  type CalibrationReading,
  type JobFacts,
} from '.';

const found = (defect: string, count = 1, decision = 'open', beyondEnd = 0): JobFacts['findings'][number] => ({
  ...{ defect, decision, count, beyondEnd },
});
const job = (id: string, part: Partial<JobFacts> = {}): JobFacts => ({
  ...{ id, name: `Job ${id}`, kind: 'focus-stack', createdAt: '2026-11-02T08:00:00.000Z', frames: 10 },
  ...{ camera: 'K-1', lens: '90 mm', fNumber: 8, findings: [], support: 'Tripod', place: '', light: '' },
  ...part,
});

describe('an interval of a share', () => {
  // R. G. Newcombe, Statistics in Medicine 17 (1998), table I, method 3.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('of %d in %d is that of the paper', (hits, of, low, high) => {
    const interval = wilson(hits, of);
    expect(interval.low).toBeCloseTo(low, 4);
    expect(interval.high).toBeCloseTo(high, 4);
  });

  it('of no cases is everything; more hits than cases are refused', () => {
    expect(wilson(0, 0)).toEqual({ low: 0, high: 1 });
    expect(() => wilson(3, 2)).toThrow('0 to 2');
  });
});

it('jobs are counted by what people said of them, however they wrote it; of others it is not known', () => {
  const jobs = [
    job('a', { findings: [found('ghost')] }),
    job('b', { support: 'tripod', findings: [found('halo')] }),
    job('c', { support: '', findings: [] }),
  ];
  expect(countFaults(jobs, 'support').map((g) => [g.name, g.jobs])).toEqual([
    ['tripod', 2],
    ['not known', 1],
  ]);
  expect(countFaults(jobs, 'light').map((g) => g.name)).toEqual(['not known']);
});

describe('what goes wrong', () => {
  const jobs = [
    job('a', { findings: [found('halo', 3, 'repaired'), found('halo', 1), found('focus-gap', 1, 'reshoot')] }),
    job('b', { findings: [found('halo', 2)], frames: 5 }),
    job('c', { lens: null, kind: 'panorama', findings: [] }),
  ];

  it('is counted by jobs and findings, in groups; a job counts once however many it has', () => {
    const [stacks, panoramas] = countFaults(jobs, 'kind');
    expect([stacks!.name, stacks!.jobs, panoramas!.name, panoramas!.cells]).toEqual(['focus stack', 2, 'panorama', []]);
    expect(stacks!.cells.map((c) => [c.defect, c.jobs, c.findings, c.repaired, c.reshot, c.jobIds])).toEqual([
      ['halo', 2, 6, 3, 0, ['a', 'b']],
      ['focus-gap', 1, 1, 0, 1, ['a']],
    ]);
    expect(stacks!.cells[1]!.share).toEqual(wilson(1, 2));
  });

  it('is told apart by lens, aperture and frames; what files do not name is said so', () => {
    expect(countFaults(jobs, 'lens').map((g) => [g.name, g.jobs])).toEqual([
      ['90 mm', 2],
      ['not known', 1],
    ]);
    expect(countFaults(jobs, 'aperture').map((g) => g.name)).toEqual(['f/8']);
    expect(countFaults(jobs, 'frames').map((g) => g.name)).toEqual(['8 to 20 frames', '4 to 7 frames']);
    expect(countFaults([], 'kind')).toEqual([]);
  });
});

describe('lessons', () => {
  it('a job whose series ended too soon speaks for a spare slice, and the plan takes it once it is asked to', () => {
    const [lesson] = drawLessons([job('a', { findings: [found('focus-gap', 1, 'reshoot', 1)] }), job('b')]);
    expect(lesson).toMatchObject({
      id: 'focus-stack:beyond-the-end',
      words: 'The series ended before the subject did, in 1 of 2 jobs.',
      jobs: [{ id: 'a', name: 'Job a' }],
    });
    expect(takeLesson({ spare: 1, overlap: 0.2 }, lesson!.change!)).toEqual({ spare: 2, overlap: 0.2 });
  });

  it('a gap between slices speaks for overlap, not for a spare one', () => {
    const lessons = drawLessons([job('a', { findings: [found('focus-gap', 2)] })]);
    expect(lessons.map((l) => l.id)).toEqual(['focus-stack:between-slices']);
    const request = { overlap: 0.5, spare: 0 };
    // What is so already stays as it is.
    expect(takeLesson(request, lessons[0]!.change!)).toBe(request);
    expect(takeLesson({ usableEv: 8 }, lessons[0]!.change!)).toEqual({ usableEv: 8 });
  });

  it('one job with halos is chance; two with the same lens name it', () => {
    expect(drawLessons([job('a', { findings: [found('halo')] })])).toEqual([]);
    const [lesson] = drawLessons(['a', 'b'].map((id) => job(id, { findings: [found('halo')] })));
    expect(lesson!.words).toContain('in 2 of 2 jobs, all with the 90 mm.');
  });

  it('what happened in one kind is no lesson for another', () => {
    const lessons = drawLessons([
      job('a', { kind: 'panorama', findings: [found('ghost')] }),
      job('b', { kind: 'bracket' }),
    ]);
    expect(lessons.map((l) => l.kind)).toEqual(['panorama']);
  });
});

describe('calibrations', () => {
  const reading = (value: number, id: string, part: Partial<CalibrationReading> = {}): CalibrationReading => ({
    ...{ camera: 'K-1', lens: '90 mm', what: 'breathing', unit: '% per dioptre', detail: '' },
    ...{ value, job: { id, name: id }, at: `2026-11-0${value > 2 ? 2 : 1}` },
    ...part,
  });

  it('are medians over jobs with their spread; one job has none', () => {
    const [breathing, noise] = gatherCalibrations([
      reading(2, 'a'),
      reading(2.2, 'b'),
      reading(2.7, 'c'),
      reading(0.4, 'a', { what: 'noise', detail: 'at ISO 100' }),
    ]);
    expect(breathing).toMatchObject({ value: 2.2, latest: '2026-11-02' });
    expect(breathing!.spread).toBeCloseTo(0.3606, 4);
    expect([noise!.spread, noise!.detail]).toEqual([null, 'at ISO 100']);
  });

  it('breathing is the slope of scale over dioptres', () => {
    const distances = [0.5, 0.4, 0.3, 0.25];
    const scales = distances.map((d) => Math.exp(0.012 * (1 / d) + 0.3));
    expect(breathingPerDioptre(scales, distances)).toBeCloseTo(1.2, 9);
    expect(breathingPerDioptre(scales, [0.5, null, null, 0.25])).toBeNull();
  });
});
