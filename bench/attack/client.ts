// A client of the HTTP interface, as the attacks use it.
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';

export interface Client {
  readonly url: string;
  get<T>(path: string): Promise<T>;
  /** @throws Error with status and words when it is refused */
  send<T>(method: string, path: string, body?: unknown): Promise<T>;
  upload(path: string, file: string, name?: string): Promise<{ readonly id: string }>;
}

/** A refusal, with what the server said. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
  constructor(
    readonly status: number,
    readonly detail: string,
  ) {
    super(`${status}: ${detail}`);
  }
}

export function makeClient(url: string): Client {
  const ask = async (path: string, init: RequestInit = {}): Promise<Response> => {
    const answer = await fetch(url + path, init);
    if (answer.ok) return answer;
    const text = await answer.text();
    const problem = /^\{/.test(text) ? (JSON.parse(text) as { detail?: string }) : {};
    throw new Refusal(answer.status, problem.detail ?? text);
  };
  const value = async <T>(answer: Response): Promise<T> => (answer.status === 204 ? null : await answer.json()) as T;
  return {
    url,
    get: async (path) => value(await ask(path)),
    send: async (method, path, body) => {
      const json = { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
      return value(await ask(path, { method, ...(body !== undefined && json) }));
    },
    upload: async (path, file, name = basename(file)) => {
      const form = new FormData();
      form.append('file', new File([readFileSync(file)], name));
      return value(await ask(path, { method: 'POST', body: form }));
    },
  };
}

export interface JobAnswer {
  readonly summary: { readonly id: string; readonly mergeId: string | null };
  readonly pictures: readonly {
    readonly id: string;
    readonly fileName: string;
    readonly status: string;
    readonly error: string | null;
  }[];
  readonly work: readonly { readonly kind: string; readonly status: string; readonly error: string | null }[];
}

export interface OperationsAnswer {
  readonly revision: number;
  readonly changed: readonly {
    readonly id: string;
    readonly shape: { readonly sizePx: number };
    readonly also?: readonly object[];
  }[];
  readonly gone: readonly string[];
}

/** The body of a request that paints a frame in by a stroke. */
export function painting(
  id: string,
  donor: number,
  points: readonly (readonly number[])[],
  sizePx: number,
): { readonly id: string; readonly change: object } {
  const shape = { kind: 'stroke', points, sizePx, hardness: 0.5, strength: 1 };
  return { id, change: { kind: 'add', operation: { kind: 'paint', donor, shape } } };
}

const UNDER_WAY = new Set(['queued', 'running']);

/** Waits until a job has nothing queued or running; paused work counts as settled. */
export async function settled(client: Client, jobId: string, timeoutMs = 1_800_000): Promise<JobAnswer> {
  const end = Date.now() + timeoutMs;
  for (;;) {
    const job = await client.get<JobAnswer>(`/api/jobs/${jobId}`);
    if (job.work.every((w) => !UNDER_WAY.has(w.status))) return job;
    const left = job.work.filter((w) => UNDER_WAY.has(w.status));
    if (Date.now() > end) throw new Error(`job ${jobId} did not settle: ${left.length} pieces of work are left`);
    await new Promise((wait) => setTimeout(wait, 200));
  }
}

/**
 * Makes a job of a folder and has it merged.
 * @param merge one made elsewhere, which is inspected instead
 */
export async function mergedJob(
  client: Client,
  name: string,
  folder: string,
  merge?: string,
): Promise<{ jobId: string; mergeId: string }> {
  const { id: jobId } = await client.send<{ id: string }>('POST', '/api/jobs', { name });
  await client.send('POST', `/api/jobs/${jobId}/folder`, { path: folder, ...(merge && { merge }) });
  await client.send('POST', `/api/jobs/${jobId}/process`, {});
  const { summary, work } = await settled(client, jobId);
  if (!summary.mergeId) throw new Error(`no merge came of ${folder}: ${JSON.stringify(work.filter((w) => w.error))}`);
  return { jobId, mergeId: summary.mergeId };
}
