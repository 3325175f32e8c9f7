// Where people's time goes: told by the interface while somebody works, added up by stage and defect.
import type { TimeLog, TimeSpent } from '@blendrak/contract';
import type { Services } from '../context';
import { requireJob } from '../jobsService';

/** Adds time that somebody spent on a job. Practice is not work. */
export function spendTime(
  { storage }: Pick<Services, 'storage'>,
  jobId: string,
  { stage, findingId, seconds }: TimeSpent,
): void {
  requireJob(storage, jobId);
  if (storage.exercises.has(jobId)) return;
  const defect = findingId === null ? null : (storage.findings.find(findingId)?.defect ?? null);
  storage.timeSpent.add(jobId, stage, defect, seconds);
}

/** What was spent on all jobs, those that are gone included. */
export function timeLogOf({ storage }: Pick<Services, 'storage'>): TimeLog {
  return {
    stages: storage.timeSpent.byStage().map(({ name, seconds, jobs }) => ({ stage: name, seconds, jobs })),
    defects: storage.timeSpent.byDefect().map(({ name, seconds, jobs }) => ({ defect: name, seconds, jobs })),
  };
}
