// Nested work: the merge of one job as a frame of another, kept linked so that it is known to be stale.
import { rm, stat } from 'node:fs/promises';
import type { Job } from '@blendrak/contract';
import { RequestError } from '../../shared/requestError';
import { newId, type Services } from '../context';
import { renderPicture } from '../deliver/exportPicture';
import { moveDurably } from '../../storage';
import { dropPicture, recordFrames } from './takeFiles';
import { openJob, requireJob } from '../jobsService';

/**
 * Takes the merge of another job, with its repairs, as a 16-bit frame.
 * @throws RequestError when that job has no merge, or is made of this one
 */
export async function addLinkedFrame(services: Services, jobId: string, sourceJobId: string): Promise<Job> {
  const { storage } = services;
  requireJob(storage, jobId);
  const source = requireJob(storage, sourceJobId);
  if (dependsOn(services, sourceJobId, jobId))
    throw new RequestError(409, `“${source.name}” is made of this job: its merge cannot be a frame of it.`);
  const merge = storage.merges.headOf(sourceJobId);
  if (!merge) throw new RequestError(409, `“${source.name}” has no merge yet: align and merge it first.`);
  const path = await renderPicture(services, merge.id, 'tiff');
  const id = newId();
  const original = storage.folder.original(id);
  try {
    await moveDurably(path, original);
    const sizeBytes = (await stat(original)).size;
    storage.transaction(() => {
      recordFrames(services, jobId, [{ id, name: `merge of ${source.name}.tif`, path: original, sizeBytes }]);
      storage.linkedFrames.insert({
        picture_id: id,
        source_job_id: sourceJobId,
        merge_id: merge.id,
        revision: merge.revision,
      });
    });
  } catch (error) {
    for (const file of [path, original]) await rm(file, { force: true });
    throw error;
  }
  return openJob(services, jobId);
}

/** Takes a stale frame anew from its source. */
export async function renewLinkedFrame(services: Services, jobId: string, pictureId: string): Promise<Job> {
  const link = services.storage.linkedFrames.find(pictureId);
  if (!link) throw new RequestError(409, 'This frame is a file, not the merge of another job.');
  await addLinkedFrame(services, jobId, link.source_job_id);
  dropPicture(services, jobId, pictureId);
  return openJob(services, jobId);
}

/** Whether a job is, directly or through others, made of another. */
function dependsOn(services: Services, jobId: string, other: string): boolean {
  if (jobId === other) return true;
  return services.storage.linkedFrames.sourcesOf(jobId).some((source) => dependsOn(services, source, other));
}
