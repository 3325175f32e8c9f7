// Jobs as pages get them: for tests of screens.
import { jobSchema, type Job, type JobSummary, type Picture, type Work } from '@blendrak/contract';

export function workOf(part: Partial<Work> = {}): Work {
  return {
    ...{ id: 'w1', jobId: 'j1', kind: 'process', status: 'running', progress: 0.4 },
    ...{ message: 'aligned 3 of 7', error: null },
    ...part,
  };
}

export function summaryOf(part: Partial<JobSummary> = {}): JobSummary {
  return {
    ...{
      id: 'j1',
      name: 'Gears',
      kind: 'focus-stack',
      isKindOpen: false,
      createdAt: '2026-11-02T08:00:00.000Z',
      frames: 3,
    },
    ...{
      mergeId: null,
      mergeFile: null,
      thumbnailId: null,
      openFindings: 0,
      allFindings: 0,
      verdict: null,
      work: null,
    },
    ...part,
  };
}

export function pictureOf(id: string, part: Partial<Picture> = {}): Picture {
  return {
    ...{ id, jobId: 'j1', role: 'frame', position: 0, fileName: `${id}.jpg`, status: 'ready', error: null },
    ...{ sizeBytes: 900_000, width: 1200, height: 900, bits: 8, profile: 'sRGB', exif: null, linked: null },
    ...part,
  };
}

export function jobOf(part: Partial<JobSummary> = {}, pictures?: readonly Picture[], work: readonly Work[] = []): Job {
  return jobSchema.parse({
    summary: summaryOf(part),
    pictures: pictures ?? ['a', 'b', 'c'].map((id, position) => pictureOf(id, { position })),
    work,
  });
}
