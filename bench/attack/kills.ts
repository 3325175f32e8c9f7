// Kill -9 in every kind of work, again and again: whatever was acknowledged must be there after the next start.
import { randomBytes } from 'node:crypto';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { start, type Application } from '../../e2e/application';
import { manyPagesOf } from './hostileFiles';
import { makeClient, mergedJob, painting, settled, type Client, type JobAnswer, type OperationsAnswer } from './client';
import { drawSpoilt, drawStack } from './sets';
import type { Row } from './table';

/** What the server acknowledged, and how to see that it is there. */
interface Ledger {
  readonly check: (client: Client) => Promise<boolean>;
  readonly what: string;
}

/** Kinds of work of which nothing is done as soon as that: the kill comes so many times later. */
const SLOW: Readonly<Record<string, number>> = { mending: 5 };

type Work = (client: Client, acknowledged: (entry: Ledger) => void) => Promise<void>;

/**
 * @param kills to do, spread over the kinds of work
 * @param random 0..1, decides when a kill comes
 */
export async function attackByKills(root: string, port: number, kills: number, random: () => number): Promise<Row[]> {
  const data = join(root, 'killed');
  const frames = await drawStack(join(root, 'frames'), { frames: 4, width: 640, height: 430 });
  const paged = join(root, 'paged.tif');
  await manyPagesOf(paged, 5);
  let app = await start('serve', data, port);
  const client = makeClient(app.url);
  // The first of them are done in a short campaign: what the others need is made for them only.
  const kinds: Readonly<Record<string, () => Work | Promise<Work>>> = {
    uploading: () => uploading(frames),
    merging: () => merging(frames),
    mending: async () => {
      const merge = await drawSpoilt(frames, join(root, 'spoilt.tif'));
      return mending(await mergedJob(client, 'Spoilt', frames, merge));
    },
    painting: async () => paintingOn((await mergedJob(client, 'Painted', frames)).mergeId),
    sorting: () => sorting(frames),
    shooting: () => shooting,
    'taking apart': () => takingApart(paged),
  };
  const names = Object.keys(kinds).slice(0, kills);
  const works: Record<string, Work> = {};
  for (const name of names) works[name] = await kinds[name]!();
  const ledger: Ledger[] = [];
  const lost: string[] = [];
  for (let kill = 0; kill < kills; kill++) {
    const name = names[kill % names.length]!;
    app = await once(app, data, port, works[name]!, (100 + random() * 2400) * (SLOW[name] ?? 1), ledger);
    const client = makeClient(app.url);
    for (const entry of ledger)
      if (!(await entry.check(client).catch(() => false))) lost.push(`${name}: ${entry.what}`);
    process.stderr.write(`kill ${kill + 1} of ${kills} while ${name}: ${ledger.length} things acknowledged\n`);
  }
  const unsettled = await settleAll(makeClient(app.url));
  await app.stop();
  const aside = join(data, 'set-aside');
  const files = existsSync(aside) ? readdirSync(aside, { recursive: true }).length : 0;
  return [
    {
      what: `${kills} kills in ${names.join(', ')}`,
      result: `${ledger.length} acknowledged, ${lost.length} lost ${lost[0] ?? ''}`,
      good: lost.length === 0,
    },
    { what: 'work after the last kill', result: `${unsettled} pieces did not come to an end`, good: unsettled === 0 },
    { what: 'files that the kills left without an owner', result: `${files} set aside`, good: true },
  ];
}

async function once(
  app: Application,
  data: string,
  port: number,
  work: Work,
  afterMs: number,
  ledger: Ledger[],
): Promise<Application> {
  // What fails because the server is gone was not acknowledged.
  const doing = work(makeClient(app.url), (entry) => ledger.push(entry)).catch(() => undefined);
  await Promise.race([doing, setTimeout(afterMs)]);
  await app.kill();
  await doing;
  return start('serve', data, port);
}

function jobNamed(id: string): Ledger['check'] {
  return async (client) => (await client.get<JobAnswer>(`/api/jobs/${id}`)).summary.id === id;
}

async function newJob(client: Client, name: string, acknowledged: (entry: Ledger) => void): Promise<string> {
  const { id } = await client.send<{ id: string }>('POST', '/api/jobs', { name });
  acknowledged({ what: `job ${name}`, check: jobNamed(id) });
  return id;
}

function uploading(frames: string): Work {
  return async (client, acknowledged) => {
    const job = await newJob(client, 'Uploaded', acknowledged);
    for (const name of readdirSync(frames)) {
      const { id } = await client.upload(`/api/jobs/${job}/files`, join(frames, name));
      acknowledged({
        what: `upload ${name}`,
        check: async (c) => {
          const { pictures } = await c.get<JobAnswer>(`/api/jobs/${job}`);
          return pictures.some((p) => p.id === id && p.status !== 'failed');
        },
      });
    }
  };
}

function merging(frames: string): Work {
  return async (client, acknowledged) => {
    const job = await newJob(client, 'Merged', acknowledged);
    const { count } = await client.send<{ count: number }>('POST', `/api/jobs/${job}/folder`, { path: frames });
    acknowledged({
      what: `folder of ${count} frames`,
      check: async (c) => (await c.get<JobAnswer>(`/api/jobs/${job}`)).pictures.length === count,
    });
    await client.send('POST', `/api/jobs/${job}/process`, {});
    acknowledged({
      what: 'work to be done',
      check: async (c) =>
        (await c.get<JobAnswer>(`/api/jobs/${job}`)).work.some((w) => w.kind === 'process' && w.error === null),
    });
    await settled(client, job);
  };
}

function paintingOn(mergeId: string): Work {
  return async (client, acknowledged) => {
    for (let k = 0; ; k++) {
      const id = randomBytes(8).toString('hex');
      await client.send('POST', `/api/merges/${mergeId}/changes`, painting(id, k % 4, [[k % 800, 100]], 20));
      acknowledged({
        what: `stroke ${k}`,
        check: async (c) =>
          (await c.get<OperationsAnswer>(`/api/merges/${mergeId}/operations`)).changed.some((s) => s.id === id),
      });
      await setTimeout(20);
    }
  };
}

/** A proposal as it is asked for. */
interface ProposalAnswer {
  readonly id: string;
  readonly state: string;
  readonly operation: { readonly shape: object; readonly also?: readonly object[] } | null;
}

/** Works repairs out and keeps them; each that was told of must stay as it was, with all its parts. */
function mending({ jobId, mergeId }: { readonly jobId: string; readonly mergeId: string }): Work {
  const proposals = (client: Client): Promise<ProposalAnswer[]> => client.get(`/api/merges/${mergeId}/proposals`);
  return async (client, acknowledged) => {
    const known = new Set<string>();
    if ((await proposals(client)).length === 0)
      await client.send('POST', `/api/merges/${mergeId}/mend`, { over: 0, keep: true });
    for (;;) {
      for (const told of await proposals(client)) {
        if (known.has(`${told.id} ${told.state}`)) continue;
        const said = JSON.stringify(told.operation);
        acknowledged({
          what: `repair ${told.id}, ${told.state}, of ${1 + (told.operation?.also?.length ?? 0)} parts`,
          check: async (c) => {
            const now = (await proposals(c)).find((p) => p.id === told.id);
            const { changed } = await c.get<OperationsAnswer>(`/api/merges/${mergeId}/operations`);
            const shape = JSON.stringify(told.operation?.shape);
            const parts = told.operation?.also?.length;
            const acts = changed.some((o) => JSON.stringify(o.shape) === shape && o.also?.length === parts);
            return JSON.stringify(now?.operation) === said && (told.state !== 'kept' || acts);
          },
        });
        known.add(`${told.id} ${told.state}`);
      }
      const { work } = await client.get<JobAnswer>(`/api/jobs/${jobId}`);
      if (work.every((w) => w.status !== 'running' && w.status !== 'queued')) return;
      await setTimeout(50);
    }
  };
}

function sorting(frames: string): Work {
  return async (client, acknowledged) => {
    const card = await client.send<{ summary: { id: string } }>('POST', '/api/cards', {
      name: 'Sorted',
      folder: frames,
    });
    const { id } = card.summary;
    acknowledged({
      what: 'card',
      check: async (c) => (await c.get<{ files: unknown[] }>(`/api/cards/${id}`)).files.length >= 4,
    });
    const file = join(frames, readdirSync(frames)[0]!);
    await client.upload(`/api/cards/${id}/files`, file, 'once more.jpg');
    await setTimeout(4000);
  };
}

const shooting: Work = async (client, acknowledged) => {
  const menu = await client.get<{ subject: string; settings: unknown }[]>('/api/camera');
  const order = {
    name: 'Shot',
    subject: 'signal-flags',
    seed: 4,
    frames: 3,
    longSidePx: 400,
    settings: menu.find((m) => m.subject === 'signal-flags')!.settings,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: false,
  };
  const { id } = await client.send<{ id: string }>('POST', '/api/camera/shoot', order);
  acknowledged({ what: 'order to the camera', check: jobNamed(id) });
  await settled(client, id);
};

function takingApart(paged: string): Work {
  return async (client, acknowledged) => {
    const job = await newJob(client, 'Taken apart', acknowledged);
    await client.upload(`/api/jobs/${job}/files`, paged);
    acknowledged({
      what: 'file of pages',
      check: async (c) => {
        const { pictures } = await c.get<JobAnswer>(`/api/jobs/${job}`);
        // The file itself, or all of its pages.
        return (pictures.length === 1 && pictures[0]!.fileName === 'paged.tif') || pictures.length === 5;
      },
    });
    await settled(client, job);
  };
}

/** Lets everything come to its end; returns what does not. */
async function settleAll(client: Client): Promise<number> {
  const jobs = await client.get<{ id: string }[]>('/api/jobs');
  let left = 0;
  for (const { id } of jobs) {
    const job = await settled(client, id).catch(() => null);
    left += job ? job.work.filter((w) => w.status === 'failed').length : 1;
  }
  return left;
}
