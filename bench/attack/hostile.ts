// A flood of hostile files, into jobs and through sorting: nothing crashes, memory stays bounded, every refusal is complete,
// and nothing is left lying.
import { mkdirSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Application } from '../../e2e/application';
import { settled, type Client } from './client';
import { writeHostileFiles } from './hostileFiles';
import type { Row } from './table';

const PER_JOB = 200;
/** A file, what is wrong with it, what would be accepted. */
const COMPLETE = /^h\d{5}\.\S+: .+\. Accepted: .+\.$/s;
const LIBRARY = /vips|Invalid|undefined|Error:|at offset|ENOENT|NaN/;
const MOST_MB = 2500;

export async function attackByFiles(
  client: Client,
  app: Application,
  root: string,
  data: string,
  count: number,
  random: () => number,
): Promise<Row[]> {
  const refusals: string[] = [];
  let peakMb = 0;
  const watch = setInterval(() => (peakMb = Math.max(peakMb, memoryMb(app.pid))), 100);
  let read = 0;
  for (let from = 0; from < count; from += PER_JOB) {
    const folder = join(root, `hostile${from}`);
    mkdirSync(folder);
    const many = Math.min(PER_JOB, count - from);
    await writeHostileFiles(folder, many, random);
    const { id } = await client.send<{ id: string }>('POST', '/api/jobs', { name: `Hostile ${from}` });
    await client.send('POST', `/api/jobs/${id}/folder`, { path: folder });
    const { pictures } = await settled(client, id);
    refusals.push(...pictures.flatMap((p) => p.error ?? []));
    read += pictures.filter((p) => p.status === 'ready').length;
    if (from === 0) refusals.push(...(await refusedBySorting(client, folder)));
    await client.send('DELETE', `/api/jobs/${id}`);
    process.stderr.write(`${from + many} of ${count} hostile files\n`);
  }
  clearInterval(watch);
  const incomplete = refusals.filter((text) => !COMPLETE.test(text) || LIBRARY.test(text));
  const left = lying(data);
  return [
    {
      what: `${count} hostile files into jobs, ${Math.min(count, PER_JOB)} through sorting`,
      result: `server lives, ${read} read, ${refusals.length} refused`,
      good: true,
    },
    {
      what: 'refusals that name file, trouble and what is accepted',
      result: `${refusals.length - incomplete.length} of ${refusals.length} ${incomplete[0] ?? ''}`,
      good: incomplete.length === 0,
    },
    { what: 'peak memory of the server meanwhile', result: `${peakMb.toFixed(0)} MB`, good: peakMb < MOST_MB },
    { what: 'left lying after the jobs were deleted', result: `${left} bytes`, good: left === 0 },
  ];
}

async function refusedBySorting(client: Client, folder: string): Promise<string[]> {
  const { summary } = await client.send<{ summary: { id: string } }>('POST', '/api/cards', { name: 'Hostile', folder });
  interface CardAnswer {
    readonly summary: { readonly work: { readonly status: string } | null };
    readonly files: readonly { readonly error: string | null }[];
  }
  for (;;) {
    const card = await client.get<CardAnswer>(`/api/cards/${summary.id}`);
    if (card.summary.work === null || card.summary.work.status === 'failed') {
      await client.send('DELETE', `/api/cards/${summary.id}`);
      return card.files.flatMap((f) => f.error ?? []);
    }
    await new Promise((wait) => setTimeout(wait, 200));
  }
}

/** Bytes of pictures and half-made files in a data folder. */
export function lying(data: string): number {
  return ['originals', 'tiles', 'looks', 'scratch']
    .flatMap((name) => readdirSync(join(data, name), { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .reduce((sum, entry) => sum + statSync(join(entry.parentPath, entry.name)).size, 0);
}

/** Resident memory of a process; 0 where the system does not say. */
export function memoryMb(pid: number): number {
  try {
    return Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}
