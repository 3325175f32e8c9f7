// Talking to the server: every answer is checked, every problem becomes an error with the server's words.
import { z } from 'zod';
import {
  findingChangesSchema,
  finishSchema,
  findingSchema,
  jobPlanSchema,
  jobSchema,
  jobSummarySchema,
  mergeSchema,
  mergeSourceSchema,
  pinSchema,
  proposalSchema,
  proposedCutSchema,
  planSchema,
  probeSchema,
  problemSchema,
  readReportSchema,
  shootMenuSchema,
  operationChangesSchema,
  sweepSchema,
  workSchema,
  type CropWishOrder,
  type Cut,
  type Decision,
  type DeliveryOrder,
  type Finding,
  type FindingChanges,
  copiedSchema,
  type Copied,
  type HandOrder,
  type Finish,
  type HandMark,
  type Job,
  type JobPlan,
  type JobChange,
  type JobSummary,
  type MendInput,
  type Merge,
  type MergeSource,
  type NewPin,
  type PictureFormat,
  type Pin,
  type Plan,
  type Probe,
  type Proposal,
  type ProposalChoice,
  type ProposedCut,
  type ProcessInput,
  type ReadReport,
  type ShootMenu,
  type ShootOrder,
  type SignOrder,
  type SourceOrder,
  type NamedChange,
  type OperationChanges,
  type Sweep,
  type WaiveOrder,
  type Work,
} from '@blendrak/contract';
import { newId } from './newId';
import { PERSON_NAME } from './person';

/** An answer that says no. */
export class ServerProblem extends Error {
  override readonly name = 'ServerProblem';
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** Tells this page from others in the news. */
export const PAGE_NAME = newId();

/** Sends a request; a refusal becomes an error with the server's words. */
export async function ask(path: string, init: RequestInit = {}): Promise<Response> {
  const response = await fetch(path, init).catch(() => {
    throw new ServerProblem(0, 'The server cannot be reached. It may be restarting; nothing that was saved is lost.');
  });
  if (response.ok) return response;
  const body: unknown = await response.json().catch(() => null);
  const problem = problemSchema.safeParse(body);
  throw new ServerProblem(
    response.status,
    problem.success ? problem.data.detail : `The server answered ${response.status}.`,
  );
}

/** The same for an answer of a known form. */
export async function askFor<T>(schema: z.ZodType<T>, path: string, init?: RequestInit): Promise<T> {
  return schema.parse(await (await ask(path, init)).json());
}

/** A request with a JSON body. */
export function json(method: string, body: unknown): RequestInit {
  return { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) };
}

/** A request under a person's and a page's name. */
function named(init: RequestInit, page = PAGE_NAME): RequestInit {
  const names = { 'X-Blendrak-Page': page, 'X-Blendrak-Person': PERSON_NAME };
  return { ...init, headers: { ...(init.headers as Record<string, string> | undefined), ...names } };
}

const idSchema = z.object({ id: z.string() });
const countSchema = z.object({ count: z.number() });

export const api = {
  jobs: (): Promise<JobSummary[]> => askFor(z.array(jobSummarySchema), '/api/jobs'),
  job: (id: string): Promise<Job> => askFor(jobSchema, `/api/jobs/${id}`),
  createJob: (name: string): Promise<JobSummary> => askFor(jobSummarySchema, '/api/jobs', json('POST', { name })),
  camera: (): Promise<ShootMenu> => askFor(shootMenuSchema, '/api/camera'),
  shoot: (order: ShootOrder): Promise<JobSummary> => askFor(jobSummarySchema, '/api/camera/shoot', json('POST', order)),
  plans: (): Promise<Plan[]> => askFor(z.array(planSchema), '/api/plans'),
  jobPlan: (id: string): Promise<JobPlan> => askFor(jobPlanSchema, `/api/jobs/${id}/plan`),
  attachPlan: (id: string, planId: string | null): Promise<JobPlan> =>
    askFor(jobPlanSchema, `/api/jobs/${id}/plan`, json('PUT', { planId })),
  changeJob: (id: string, change: JobChange): Promise<Job> =>
    askFor(jobSchema, `/api/jobs/${id}`, json('PATCH', change)),
  removeJob: (id: string) => ask(`/api/jobs/${id}`, { method: 'DELETE' }),
  uploadFile: (jobId: string, file: File, role: 'frame' | 'merge') => {
    const form = new FormData();
    form.append('file', file);
    return askFor(idSchema, `/api/jobs/${jobId}/files?role=${role}`, { method: 'POST', body: form });
  },
  addFolder: (jobId: string, path: string, merge: string) =>
    askFor(countSchema, `/api/jobs/${jobId}/folder`, json('POST', merge ? { path, merge } : { path })),
  dropPicture: (jobId: string, id: string) => ask(`/api/jobs/${jobId}/pictures/${id}`, { method: 'DELETE' }),
  addLinkedFrame: (jobId: string, sourceJobId: string): Promise<Job> =>
    askFor(jobSchema, `/api/jobs/${jobId}/merge-frames`, json('POST', { sourceJobId })),
  renewLinkedFrame: (jobId: string, pictureId: string): Promise<Job> =>
    askFor(jobSchema, `/api/jobs/${jobId}/merge-frames/${pictureId}/renew`, { method: 'POST' }),
  process: (jobId: string, request: ProcessInput = {}): Promise<Job> =>
    askFor(jobSchema, `/api/jobs/${jobId}/process`, json('POST', request)),
  cancelWork: (id: string) => ask(`/api/jobs/work/${id}/cancel`, { method: 'POST' }),
  /** Asks for a flat picture file; it is there to be fetched once the work is done. */
  exportPicture: (mergeId: string, format: PictureFormat): Promise<Work> =>
    askFor(workSchema, `/api/merges/${mergeId}/exports`, json('POST', { format })),
  merge: (id: string): Promise<Merge> => askFor(mergeSchema, `/api/merges/${id}`),
  probe: (id: string, x: number, y: number, size: number, signal?: AbortSignal): Promise<Probe> =>
    askFor(probeSchema, `/api/merges/${id}/probe?x=${x}&y=${y}&size=${size}`, signal ? { signal } : {}),
  pins: (mergeId: string): Promise<Pin[]> => askFor(z.array(pinSchema), `/api/merges/${mergeId}/pins`),
  addPin: (mergeId: string, pin: NewPin): Promise<Pin> =>
    askFor(pinSchema, `/api/merges/${mergeId}/pins`, json('POST', pin)),
  removePin: (id: string) => ask(`/api/pins/${id}`, { method: 'DELETE' }),
  sweep: (mergeId: string): Promise<Sweep> => askFor(sweepSchema, `/api/merges/${mergeId}/sweep`),
  /** Also while the page goes away. */
  addToSweep: (mergeId: string, added: Sweep): Promise<Sweep> =>
    askFor(sweepSchema, `/api/merges/${mergeId}/sweep`, { ...json('POST', added), keepalive: true }),
  readReport: (mergeId: string, report: unknown): Promise<ReadReport> =>
    askFor(readReportSchema, `/api/merges/${mergeId}/report`, json('POST', report)),
  markByHand: (mergeId: string, mark: HandMark): Promise<Finding> =>
    askFor(findingSchema, `/api/merges/${mergeId}/findings`, json('POST', mark)),
  findings: (mergeId: string, since: number): Promise<FindingChanges> =>
    askFor(findingChangesSchema, `/api/merges/${mergeId}/findings?since=${since}`),
  operations: (mergeId: string, since: number): Promise<OperationChanges> =>
    askFor(operationChangesSchema, `/api/merges/${mergeId}/operations?since=${since}`, named({})),
  /**
   * Changes answer with what changed since the revision this page knows.
   * @param page the page that it was asked on
   */
  change: (mergeId: string, since: number, change: NamedChange, page: string): Promise<OperationChanges> =>
    askFor(operationChangesSchema, `/api/merges/${mergeId}/changes?since=${since}`, named(json('POST', change), page)),
  /** Has repairs worked out; they are there, one by one, while the work goes on. */
  mend: (mergeId: string, order: MendInput): Promise<Work> =>
    askFor(workSchema, `/api/merges/${mergeId}/mend`, json('POST', order)),
  sources: (mergeId: string): Promise<MergeSource[]> =>
    askFor(z.array(mergeSourceSchema), `/api/merges/${mergeId}/sources`),
  /** Has the set merged once more, to be painted with. */
  makeSource: (mergeId: string, order: SourceOrder): Promise<Work> =>
    askFor(workSchema, `/api/merges/${mergeId}/sources`, json('POST', order)),
  fill: (mergeId: string, since: number, id: string, findingId: string): Promise<OperationChanges> =>
    askFor(
      operationChangesSchema,
      `/api/merges/${mergeId}/fills?since=${since}&id=${id}`,
      named(json('POST', { findingId })),
    ),
  /** Does the repairs of another merge here, too. */
  copyRepairs: (mergeId: string, from: string): Promise<Copied> =>
    askFor(copiedSchema, `/api/merges/${mergeId}/copies`, named(json('POST', { from }))),
  /** Paints a frame in by a mask that was made elsewhere. */
  takeMask: (mergeId: string, since: number, id: string, donor: number, file: File): Promise<OperationChanges> => {
    const body = new FormData();
    body.append('file', file);
    const path = `/api/merges/${mergeId}/masks?since=${since}&id=${id}&donor=${donor}`;
    return askFor(operationChangesSchema, path, named({ method: 'POST', body }));
  },
  /** Lays the mask of an operation to the edges of what it paints in. */
  snapMask: (
    mergeId: string,
    since: number,
    id: string,
    operationId: string,
    reachPx: number,
  ): Promise<OperationChanges> => {
    const path = `/api/merges/${mergeId}/operations/${operationId}/snap?since=${since}&id=${id}`;
    return askFor(operationChangesSchema, path, named(json('POST', { reachPx })));
  },
  /**
   * Has something that was drawn by hand worked out and done.
   * @param id name of the change that it becomes: sent again under it, it is done once
   */
  byHand: (mergeId: string, since: number, id: string, order: HandOrder): Promise<OperationChanges> =>
    askFor(
      operationChangesSchema,
      `/api/merges/${mergeId}/by-hand?since=${since}&id=${id}`,
      named(json('POST', order)),
    ),
  proposals: (mergeId: string): Promise<Proposal[]> =>
    askFor(z.array(proposalSchema), `/api/merges/${mergeId}/proposals`),
  chooseProposals: (mergeId: string, since: number, choice: Partial<ProposalChoice>): Promise<OperationChanges> =>
    askFor(operationChangesSchema, `/api/merges/${mergeId}/proposals?since=${since}`, named(json('POST', choice))),
  finish: (mergeId: string): Promise<Finish> => askFor(finishSchema, `/api/merges/${mergeId}/finish`),
  proposeCut: (mergeId: string, wish: CropWishOrder): Promise<ProposedCut> =>
    askFor(proposedCutSchema, `/api/merges/${mergeId}/cut/proposal`, json('POST', wish)),
  setCut: (mergeId: string, cut: Cut): Promise<Finish> =>
    askFor(finishSchema, `/api/merges/${mergeId}/cut`, json('PUT', cut)),
  waive: (mergeId: string, order: WaiveOrder): Promise<Finish> =>
    askFor(finishSchema, `/api/merges/${mergeId}/waivers`, json('POST', order)),
  sign: (mergeId: string, order: SignOrder): Promise<Finish> =>
    askFor(finishSchema, `/api/merges/${mergeId}/signature`, json('PUT', order)),
  openAgain: (mergeId: string): Promise<Finish> =>
    askFor(finishSchema, `/api/merges/${mergeId}/signature`, { method: 'DELETE' }),
  deliver: (mergeId: string, order: DeliveryOrder): Promise<Work> =>
    askFor(workSchema, `/api/merges/${mergeId}/delivery`, json('POST', order)),
  decide: (id: string, since: number, decision: Decision, reason: string): Promise<FindingChanges> =>
    askFor(findingChangesSchema, `/api/findings/${id}?since=${since}`, json('PATCH', { decision, reason })),
};

/**
 * Address of a picture part: IIIF region and size.
 * @param version names the state of the picture, and may be kept for good: of a repaired merge `tileState`, of others
 * anything; without it the part comes as it is now
 */
export function tileUrl(
  id: string,
  region: { x: number; y: number; width: number; height: number } | 'full',
  size: string,
  version?: string | number,
): string {
  const part = region === 'full' ? 'full' : `${region.x},${region.y},${region.width},${region.height}`;
  const address = `/iiif/${id}/${part}/${size}/0/default.jpg`;
  return version === undefined ? address : `${address}?v=${version}`;
}

/** Words of any error, for people. */
export function wordsOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
