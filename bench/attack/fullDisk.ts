// A disk that fills up: work pauses and says why, strokes are still taken, the server lives, and all goes on when there is room.
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { start } from '../../e2e/application';
import { makeClient, mergedJob, painting, type Client, type JobAnswer, type OperationsAnswer } from './client';
import { drawStack } from './sets';
import type { Row } from './table';

const DISK_MB = 200;

export async function attackByFullDisk(root: string, port: number): Promise<Row[]> {
  const disk = join(root, 'small disk');
  mkdirSync(disk);
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', disk], { stdio: 'ignore' });
  } catch {
    return [{ what: 'a full disk', result: 'not tried: no small disk can be mounted here', good: true }];
  }
  try {
    return await fillUp(disk, root, port);
  } finally {
    execFileSync('umount', ['-l', disk], { stdio: 'ignore' });
  }
}

async function fillUp(disk: string, root: string, port: number): Promise<Row[]> {
  const small = await drawStack(join(root, 'small'), { frames: 3, width: 700, height: 500 });
  const large = await drawStack(join(root, 'large'), { frames: 3, width: 1800, height: 1200 });
  const app = await start('serve', join(disk, 'data'), port);
  try {
    const client = makeClient(app.url);
    const { mergeId } = await mergedJob(client, 'Small', small);
    const ballast = join(disk, 'ballast');
    fill(ballast, free(disk) - 45e6);
    const { id } = await client.send<{ id: string }>('POST', '/api/jobs', { name: 'Large' });
    await client.send('POST', `/api/jobs/${id}/folder`, { path: large });
    await client.send('POST', `/api/jobs/${id}/process`, {});
    const paused = await waitFor(client, id, (job) => job.work.some((w) => w.status === 'paused'));
    const why = paused?.work.find((w) => w.status === 'paused')?.error ?? 'never paused';
    // The last byte goes, too: the database lives on its reserve.
    fill(join(disk, 'last'), free(disk));
    let acknowledged = 0;
    for (let k = 0; k < 40; k++) {
      const points = Array.from({ length: 400 }, (_, i) => [i, k]);
      await client.send('POST', `/api/merges/${mergeId}/changes`, painting(`full-disk-${k}`, 0, points, 9)).then(
        () => (acknowledged += 1),
        () => undefined,
      );
    }
    for (const name of ['last', 'ballast']) rmSync(join(disk, name));
    const done = await waitFor(client, id, (job) => job.work.every((w) => w.status === 'done'));
    const kept = (await client.get<OperationsAnswer>(`/api/merges/${mergeId}/operations`)).changed.length;
    return [
      {
        what: `a disk of ${DISK_MB} MB fills up during work`,
        result: `paused: ${why}`,
        good: why.startsWith('The disk is full'),
      },
      {
        what: 'strokes on the full disk',
        result: `${acknowledged} of 40 acknowledged, ${kept} kept`,
        good: kept === acknowledged && acknowledged > 0,
      },
      {
        what: 'when there is room again',
        result: done ? 'all work came to its end' : 'work did not go on',
        good: done !== null,
      },
    ];
  } finally {
    await app.stop();
  }
}

function free(disk: string): number {
  const { bavail, bsize } = statfsSync(disk);
  return bavail * bsize;
}

function fill(path: string, bytes: number): void {
  try {
    writeFileSync(path, Buffer.alloc(Math.max(0, Math.floor(bytes))));
  } catch (error) {
    // Full already, because somebody else wrote meanwhile: that is what is wanted. Errors of the file system come from outside the
    // tests' sandbox and are no instances of its Error.
    if (!(typeof error === 'object' && error !== null && 'code' in error && error.code === 'ENOSPC')) throw error;
  }
}

async function waitFor(client: Client, id: string, done: (job: JobAnswer) => boolean): Promise<JobAnswer | null> {
  for (let k = 0; k < 900; k++) {
    const job = await client.get<JobAnswer>(`/api/jobs/${id}`);
    if (done(job)) return job;
    await setTimeout(200);
  }
  return null;
}
