// Mixed use for a long time: jobs made, merged, painted, exported, deleted. Memory and open files must stay flat.
import { randomBytes } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Application } from '../../e2e/application';
import { mergedJob, painting, settled, type Client } from './client';
import { lying, memoryMb } from './hostile';
import { drawStack } from './sets';
import type { Row } from './table';

/** First part of the time, in which caches and threads get to their size. */
const WARM_UP = 0.25;
/** What a day of use may add. */
const MOST_GROWTH_MB = 150;

interface Sample {
  readonly at: number;
  readonly memoryMb: number;
  readonly files: number;
}

export async function soak(
  client: Client,
  app: Application,
  root: string,
  data: string,
  minutes: number,
): Promise<Row[]> {
  const frames = await drawStack(join(root, 'soaked'), { frames: 4, width: 1500, height: 1000 });
  const samples: Sample[] = [];
  const begin = performance.now();
  const share = (): number => (performance.now() - begin) / (minutes * 60_000);
  let rounds = 0;
  while (share() < 1) {
    await round(client, frames);
    rounds += 1;
    const files = readdirSync(`/proc/${app.pid}/fd`).length;
    samples.push({ at: share(), memoryMb: memoryMb(app.pid), files });
    if (rounds % 20 === 0) {
      const { memoryMb: mb } = samples.at(-1)!;
      process.stderr.write(
        `soak ${(share() * minutes).toFixed(1)} min: ${rounds} rounds, ${mb.toFixed(0)} MB, ${files} files\n`,
      );
    }
  }
  const steady = samples.filter((s) => s.at > WARM_UP);
  const [early, late] = [steady.slice(0, Math.ceil(steady.length / 4)), steady.slice(-Math.ceil(steady.length / 4))];
  const mean = (list: readonly Sample[], of: (s: Sample) => number): number =>
    list.reduce((sum, s) => sum + of(s), 0) / Math.max(1, list.length);
  const memory = [mean(early, (s) => s.memoryMb), mean(late, (s) => s.memoryMb)] as const;
  const files = [mean(early, (s) => s.files), mean(late, (s) => s.files)] as const;
  const left = lying(data);
  return [
    {
      what: `${minutes} min of mixed use, ${rounds} rounds: memory`,
      result: `${memory[0].toFixed(0)} MB early, ${memory[1].toFixed(0)} MB late`,
      good: memory[1] - memory[0] < MOST_GROWTH_MB,
    },
    {
      what: 'open files meanwhile',
      result: `${files[0].toFixed(1)} early, ${files[1].toFixed(1)} late`,
      good: files[1] - files[0] < 3,
    },
    { what: 'left lying after all jobs were deleted', result: `${left} bytes`, good: left === 0 },
  ];
}

/** One job's life. */
async function round(client: Client, frames: string): Promise<void> {
  const { jobId, mergeId } = await mergedJob(client, 'Soaked', frames);
  for (let k = 0; k < 5; k++) {
    const stroke = painting(randomBytes(8).toString('hex'), k % 4, [[100 * k, 300]], 60);
    await client.send('POST', `/api/merges/${mergeId}/changes`, stroke);
    for (const x of [0, 512, 1024]) {
      const tile = await fetch(`${client.url}/iiif/r-${mergeId}/${x},0,400,512/max/0/default.jpg`);
      await tile.arrayBuffer();
    }
  }
  const undo = { id: randomBytes(8).toString('hex'), change: { kind: 'undo' } };
  await client.send('POST', `/api/merges/${mergeId}/changes`, undo);
  for (const format of ['tiff', 'jpeg']) {
    const { id } = await client.send<{ id: string }>('POST', `/api/merges/${mergeId}/exports`, { format });
    await settled(client, jobId);
    await (await fetch(`${client.url}/api/exports/${id}`)).arrayBuffer();
  }
  await (await fetch(`${client.url}/api/merges/${mergeId}/probe?x=200&y=200`)).arrayBuffer();
  await client.send('DELETE', `/api/jobs/${jobId}`);
}
