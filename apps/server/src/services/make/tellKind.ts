// What kind of set a job's frames are, where nobody has said so.
import { mkdir, rm } from 'node:fs/promises';
import type { MergeKind } from '@blendrak/contract';
import { findKind } from '../../pipeline';
import type { Services } from '../context';
import { requireJob } from '../jobsService';

/**
 * The kind of a job; told from its frames, and kept, while nobody has said one.
 * @param frames files that are to be processed
 */
export async function tellKind(
  { storage, pool, events }: Services,
  jobId: string,
  frames: readonly { readonly path: string; readonly name: string }[],
  onProgress: (share: number, message: string) => void,
  signal: AbortSignal,
): Promise<MergeKind> {
  const job = requireJob(storage, jobId);
  if (!job.is_kind_open) return job.kind;
  onProgress(0, 'looking at what kind of set this is');
  const workspace = storage.folder.scratchFile('.kind');
  await mkdir(workspace);
  try {
    const context = { run: pool.run, parallel: pool.threads, signal, onProgress: () => undefined };
    const kind = await findKind(frames, workspace, context);
    // Somebody may have said it in the meantime.
    if (requireJob(storage, jobId).is_kind_open) storage.jobs.setKind(jobId, kind);
    events.publish({ topic: 'job', id: jobId });
    return requireJob(storage, jobId).kind;
  } finally {
    await rm(workspace, { recursive: true, force: true });
  }
}
