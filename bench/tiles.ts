// From a stroke sent to its full-size tiles received, over HTTP, on a job made from a folder of frames and a merge.
// npm run build && npx tsx bench/tiles.ts --folder FRAMES --merge FILE [--data KEPT] [--strokes 30]
import { randomUUID } from 'node:crypto';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { placeOperation, tileState, type PlacedOperation } from '@blendrak/core/repair';

const { values } = parseArgs({
  options: {
    folder: { type: 'string' },
    merge: { type: 'string' },
    data: { type: 'string' },
    strokes: { type: 'string', default: '30' },
    port: { type: 'string', default: '4399' },
  },
});
const data = values.data ?? mkdtempSync(join(tmpdir(), 'blendrak-tiles-'));
const base = `http://127.0.0.1:${values.port}`;
const bin = fileURLToPath(new URL('../apps/server/bin/blendrak.js', import.meta.url));
const server = spawn(process.execPath, [bin, 'serve', '--read', '/'], {
  env: { ...process.env, PORT: values.port, BLENDRAK_DATA: data },
  stdio: ['ignore', 'ignore', 'inherit'],
});
try {
  await waitForServer();
  const mergeId = await openMerge();
  await measure(mergeId);
} finally {
  server.kill();
  if (!values.data) rmSync(data, { recursive: true, force: true });
}

async function ask<T>(path: string, body?: unknown): Promise<T> {
  const init = {
    method: 'POST',
    headers: { 'content-type': 'application/json', connection: 'close' },
    body: JSON.stringify(body),
  };
  const answer = await fetch(`${base}${path}`, body === undefined ? { headers: { connection: 'close' } } : init);
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}

async function waitForServer(): Promise<void> {
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`${base}/api/jobs`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
    await setTimeout(100);
  }
  throw new Error('the server did not answer');
}

/** The merge of an earlier run in the same data folder, or of a job made now. */
async function openMerge(): Promise<string> {
  const note = join(data, 'bench-merge');
  if (existsSync(note)) return readFileSync(note, 'utf8');
  const { id } = await ask<{ id: string }>('/api/jobs', { name: 'Tiles' });
  await ask(`/api/jobs/${id}/folder`, { path: values.folder, merge: values.merge });
  await ask(`/api/jobs/${id}/process`, {});
  for (;;) {
    const job = await ask<{ summary: { mergeId: string | null }; work: { status: string; error: string | null }[] }>(
      `/api/jobs/${id}`,
    );
    const failed = job.work.find((w) => w.status === 'failed');
    if (failed) throw new Error(failed.error ?? 'failed');
    const { mergeId } = job.summary;
    if (mergeId) {
      writeFileSync(note, mergeId);
      return mergeId;
    }
    await setTimeout(500);
  }
}

async function measure(mergeId: string): Promise<void> {
  const { width, height, frames } = await ask<{ width: number; height: number; frames: unknown[] }>(
    `/api/merges/${mergeId}`,
  );
  const acknowledged: number[] = [];
  const tiles: number[] = [];
  const painted: PlacedOperation[] = [];
  for (let i = 0; i < Number(values.strokes); i++) {
    const x = 512 * Math.floor(1 + Math.random() * (width / 512 - 3));
    const y = 512 * Math.floor(1 + Math.random() * (height / 512 - 3));
    const points = Array.from({ length: 26 }, (_, k) => [x + 60 + 15 * k, y + 256 + 60 * Math.sin(k / 3)] as const);
    const shape = { kind: 'stroke' as const, points, sizePx: 90, hardness: 0.5, strength: 1 };
    const operation = { kind: 'paint', donor: i % frames.length, shape };
    const id = randomUUID();
    const start = performance.now();
    await ask(`/api/merges/${mergeId}/changes`, { id, change: { kind: 'add', operation } });
    painted.push(placeOperation({ id, donor: operation.donor, shape }));
    const saved = performance.now();
    const state = tileState(painted, { x, y, width: 512, height: 512 }, 512);
    const tile = await fetch(`${base}/iiif/r-${mergeId}/${x},${y},512,512/512,512/0/default.jpg?v=${state}`);
    await tile.arrayBuffer();
    acknowledged.push(saved - start);
    tiles.push(performance.now() - saved);
    await setTimeout(250);
  }
  print('stroke acknowledged', acknowledged);
  print('its 512 px tile', tiles);
}

function print(name: string, values: number[]): void {
  const sorted = values.toSorted((a, b) => a - b);
  const at = (share: number): string =>
    sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!.toFixed(0);
  process.stdout.write(`${name}: median ${at(0.5)} ms, 95 % within ${at(0.95)} ms\n`);
}
