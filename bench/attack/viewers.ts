// Thirty people look at one job of 24 MP: how long tiles take, quiet and while another job is inspected, and how long any
// plain question waits meanwhile.
import { spawn } from 'node:child_process';
import { setTimeout } from 'node:timers/promises';
import { join } from 'node:path';
import { mergedJob, settled, type Client } from './client';
import { drawStack } from './sets';
import type { Row } from './table';

interface Size {
  readonly width: number;
  readonly height: number;
  readonly viewers: number;
  readonly seconds: number;
}

export async function attackByViewers(client: Client, root: string, size: Size): Promise<Row[]> {
  const { width, height, viewers, seconds } = size;
  const folder = await drawStack(join(root, 'viewed'), { frames: 5, width, height });
  const { jobId, mergeId } = await mergedJob(client, 'Viewed', folder);
  const quiet = await look(client, mergeId, size, () => false);
  await client.send('POST', `/api/jobs/${jobId}/process`, { options: { stackMethod: 'bands' } });
  let over = false;
  void settled(client, jobId).then(() => (over = true));
  await setTimeout(1500);
  const busy = await look(client, mergeId, size, () => over);
  await settled(client, jobId);
  const what = `${viewers} viewers, ${((width * height) / 1e6).toFixed(0)} MP, ${seconds} s`;
  return [
    { what: `tiles, ${what}, quiet`, result: spread(quiet.tiles), good: at(quiet.tiles, 0.95) < 250 },
    {
      what: `tiles, ${what}, during a merge and its inspection`,
      result: spread(busy.tiles),
      good: at(busy.tiles, 0.95) < 600,
    },
    { what: 'plain questions, quiet', result: spread(quiet.plain), good: Math.max(...quiet.plain) < 50 },
    {
      what: 'plain questions, during a merge and its inspection',
      result: spread(busy.plain),
      good: Math.max(...busy.plain) < 50,
    },
  ];
}

interface Times {
  readonly tiles: number[];
  readonly plain: number[];
}

/** Each viewer asks for a tile, looks at it, asks for the next; plain questions are asked beside. */
async function look(client: Client, mergeId: string, size: Size, enough: () => boolean): Promise<Times> {
  const { width, height, viewers, seconds } = size;
  const times: Times = { tiles: [], plain: [] };
  const end = performance.now() + seconds * 1000;
  const goesOn = (): boolean => performance.now() < end && !enough();
  const timed = async (list: number[], path: string): Promise<void> => {
    const start = performance.now();
    const answer = await fetch(client.url + path);
    await answer.arrayBuffer();
    if (!answer.ok) throw new Error(`${path}: ${answer.status}`);
    list.push(performance.now() - start);
  };
  const viewer = async (k: number): Promise<void> => {
    for (let n = 0; goesOn(); n++) {
      const x = 512 * ((k * 7 + n * 3) % Math.floor(width / 512));
      const y = 512 * ((k * 5 + n) % Math.floor(height / 512));
      // A screen of tiles, then a look at it.
      await timed(times.tiles, `/iiif/r-${mergeId}/${x},${y},512,512/512,512/0/default.jpg?v=0&viewer=${k}`);
      await setTimeout(120);
    }
  };
  const asking = ask(client.url, ['/api/jobs', '/api/camera', '/api/news?since=0']);
  await Promise.all(Array.from({ length: viewers }, (_, k) => viewer(k)));
  times.plain.push(...(await asking()));
  return times;
}

/** Plain questions from a process of their own: the viewers' own waiting does not count. */
function ask(url: string, paths: readonly string[]): () => Promise<number[]> {
  const script = `
    const times = [];
    const ask = async (path) => {
      for (;;) {
        const start = performance.now();
        await (await fetch(process.argv[1] + path)).arrayBuffer();
        times.push(performance.now() - start);
        await new Promise((wait) => setTimeout(wait, 100));
      }
    };
    process.argv.slice(2).forEach((path) => void ask(path).catch(() => undefined));
    process.on('SIGTERM', () => process.stdout.write(JSON.stringify(times.slice(3)), () => process.exit(0)));`;
  const child = spawn(process.execPath, ['-e', script, url, ...paths], { stdio: ['ignore', 'pipe', 'inherit'] });
  let text = '';
  child.stdout.on('data', (part: Buffer) => (text += part.toString()));
  return () =>
    new Promise((done) => {
      child.once('close', () => done(JSON.parse(text) as number[]));
      child.kill('SIGTERM');
    });
}

function at(values: readonly number[], share: number): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? NaN;
}

function spread(values: readonly number[]): string {
  const [half, most, all] = [0.5, 0.95, 1].map((share) => at(values, share).toFixed(0));
  return `median ${half} ms, 95 % within ${most} ms, longest ${all} ms (${values.length})`;
}
