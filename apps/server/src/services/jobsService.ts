// Jobs as the interface lists and opens them.
import {
  circumstancesSchema,
  viewingSchema,
  type Job,
  type JobChange,
  type JobSummary,
  type LinkedFrame,
  type MergeKind,
  type Picture,
  type ViewingSettings,
  type Work,
} from '@blendrak/contract';
import { judgeFindings } from '@blendrak/core/inspect';
import { viewingOf } from '@blendrak/core/print';
import { pictureInfo, type StoredJob, type LinkedFrameRow, type MergeHead, type PictureRow } from '../storage';
import { newId, type Services } from './context';
import { note } from './log/journal';
import { RequestError } from '../shared/requestError';

/** @param kind left to be told from the frames when they are processed, where nobody says it */
export function createJob({ storage, events }: Services, name: string, kind?: MergeKind): JobSummary {
  const id = newId();
  storage.jobs.insert({ id, name, kind: kind ?? 'focus-stack', created_at: new Date().toISOString() });
  if (!kind) storage.jobs.openKind(id);
  note({ storage }, id, 'made', 'The job was made.');
  events.publish({ topic: 'job', id });
  return summarise(storage, id);
}

export function listJobs({ storage }: Services): JobSummary[] {
  return storage.jobs
    .list()
    .filter((row) => !storage.exercises.has(row.id))
    .map((row) => summarise(storage, row.id));
}

export function openJob({ storage }: Services, id: string): Job {
  const summary = summarise(storage, id);
  const row = requireJob(storage, id);
  const { circumstances } = row;
  return {
    summary,
    viewing: viewingSettingsOf(row),
    circumstances: circumstancesSchema.parse(circumstances === null ? {} : JSON.parse(circumstances)),
    pictures: storage.pictures
      .listByJob(id)
      .map((row) => toPicture(row, linkState(storage, storage.linkedFrames.find(row.id)))),
    work: storage.work.listByJob(id),
  };
}

function viewingSettingsOf({ viewing }: StoredJob): ViewingSettings {
  return viewing === null ? { kind: 'screen' } : viewingSchema.parse(JSON.parse(viewing));
}

/** Open findings that show in the way in which the picture will be looked at, and are sure enough for the limit on false alarms. */
function openThatShow({ findings }: Services['storage'], row: StoredJob, merge: MergeHead, open: number): number {
  // On a screen and without a limit all are shown: they need not be read.
  if (open === 0 || row.viewing === null) return open;
  const settings = viewingSettingsOf(row);
  const { unseen, unsure } = judgeFindings(
    findings.listByMerge(merge.id),
    viewingOf(settings, merge),
    settings.falseAlarms,
  );
  return open - unseen.size - unsure.size;
}

/**
 * Says how the picture of a job will be looked at, how it was shot, and what kind of set it is.
 * @throws RequestError for another kind while the job is being processed
 */
export function changeJob(
  { storage, events }: Services,
  id: string,
  { viewing, circumstances, kind }: JobChange,
): void {
  requireJob(storage, id);
  if (kind && storage.work.countActive(id, 'process') > 0)
    throw new RequestError(409, 'This job is being processed: wait for it, or cancel it, before its kind is changed.');
  if (kind === 'auto') storage.jobs.openKind(id);
  else if (kind) storage.jobs.setKind(id, kind);
  if (viewing) storage.jobs.setViewing(id, viewing);
  if (circumstances) storage.jobs.setCircumstances(id, circumstances);
  events.publish({ topic: 'job', id });
}

/** Removes a job with all that was made for it; work on it must have been cancelled. Files that lie elsewhere stay. */
export function removeJob({ storage, events, merges }: Services, id: string): void {
  requireJob(storage, id);
  note({ storage }, id, 'removed', 'The job was removed, with what was made for it.');
  merges.forget();
  const exports = storage.work.listByJob(id).filter((w) => w.kind === 'export' || w.kind === 'deliver');
  const ids = [...storage.pictures.listByJob(id), ...exports].map((row) => row.id);
  ids.push(...storage.merges.idsOf(id), ...storage.sources.idsOf(id));
  storage.discard(ids, () => {
    storage.jobFacts.remember(id);
    storage.jobs.remove(id);
  }, [storage.folder.delivered(id)]);
  events.publish({ topic: 'job', id });
}

export function requireJob(storage: Services['storage'], id: string): StoredJob {
  const row = storage.jobs.find(id);
  if (!row) throw new RequestError(404, `There is no job ${id}.`);
  return row;
}

/** Work beside the way of a job: where it failed is told where it was asked for. */
const ASIDE: ReadonlySet<Work['kind']> = new Set(['intake', 'export', 'mend', 'deliver', 'source'] as const);

function summarise(storage: Services['storage'], id: string): JobSummary {
  const row = requireJob(storage, id);
  const pictures = storage.pictures.listByJob(id);
  const merge = storage.merges.headOf(id);
  const counts = merge ? storage.findings.count(merge.id) : { all_count: 0, open_count: 0 };
  const work = storage.work.listByJob(id);
  const active = (['running', 'paused', 'queued'] as const).flatMap((s) => work.filter((w) => w.status === s))[0];
  const lastMain = work.filter((w) => !ASIDE.has(w.kind)).at(-1);
  const ready = pictures.filter((p) => p.status === 'ready');
  const first = ready.find((p) => p.role === 'merge') ?? ready[0];
  return {
    id,
    name: row.name,
    kind: row.kind,
    isKindOpen: row.is_kind_open === 1,
    createdAt: row.created_at,
    frames: pictures.filter((p) => p.role === 'frame').length,
    mergeId: merge?.id ?? null,
    mergeFile: merge ? merge.file : (pictures.find((p) => p.role === 'merge')?.file_name ?? null),
    thumbnailId: merge ? `r-${merge.id}` : first ? `p-${first.id}` : null,
    openFindings: merge ? openThatShow(storage, row, merge, counts.open_count) : 0,
    allFindings: counts.all_count,
    verdict: (merge && storage.finishes.find(merge.id).signature?.verdict) ?? null,
    work: active ?? (lastMain && lastMain.status !== 'done' ? lastMain : null),
  };
}

function toPicture(row: PictureRow, linked: LinkedFrame | null): Picture {
  const info = pictureInfo(row);
  return {
    id: row.id,
    jobId: row.job_id,
    role: row.role,
    position: row.position,
    fileName: row.file_name,
    status: row.status,
    error: row.error,
    sizeBytes: row.size_bytes,
    width: info?.width ?? null,
    height: info?.height ?? null,
    bits: info?.bits ?? null,
    profile: info?.profile ?? null,
    exif: info?.exif ?? null,
    linked,
  };
}

/** Where a frame that is another job's merge stands against it. */
function linkState(storage: Services['storage'], link: LinkedFrameRow | undefined): LinkedFrame | null {
  if (!link) return null;
  const source = storage.jobs.find(link.source_job_id);
  const merge = source && storage.merges.headOf(source.id);
  const state = !merge ? 'gone' : merge.id === link.merge_id && merge.revision === link.revision ? 'fresh' : 'stale';
  return { jobId: link.source_job_id, jobName: source?.name ?? null, state };
}
