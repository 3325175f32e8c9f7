// The bench's page in a browser on a large merge with hundreds of operations and findings: how soon the overlay follows the pointer, how
// long tasks are while painting, how soon after a stroke its full tiles are there, how much memory the page takes; and what a tile with
// many operations costs against one with few. All of it for each number of operations.
// npm run build && npx tsx bench/page.ts [--megapixels 60] [--frames 12] [--operations 1,100,500] [--findings 500] [--data KEPT]
import { randomUUID } from 'node:crypto';
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { chromium, type CDPSession, type Page } from '@playwright/test';
import Database from 'better-sqlite3';
import sharp from 'sharp';
import { placeOperation, tileState, type PlacedOperation } from '@blendrak/core/repair';
import { makeClient, settled, type Client } from './attack/client';

const { values } = parseArgs({
  options: {
    megapixels: { type: 'string', default: '60' },
    frames: { type: 'string', default: '12' },
    operations: { type: 'string', default: '1,100,500' },
    findings: { type: 'string', default: '500' },
    data: { type: 'string' },
    port: { type: 'string', default: '4398' },
  },
});
const root = values.data ?? mkdtempSync(join(tmpdir(), 'blendrak-page-'));
const data = join(root, 'data');
const client = makeClient(`http://127.0.0.1:${values.port}`);
const WIDTH = 8 * Math.round(Math.sqrt(Number(values.megapixels) * 1e6 * 1.5) / 8);
const HEIGHT = 8 * Math.round(WIDTH / 1.5 / 8);

let server = await startServer();
try {
  const { jobId, mergeId } = await openMerge();
  for (const count of values.operations.split(',').map(Number)) {
    const operations = await paint(mergeId, count);
    process.stdout.write(`\nwith ${operations.length} operations\n`);
    if (count >= 100) await measureTiles(mergeId, operations);
    await measurePage(jobId, mergeId);
  }
} finally {
  server.kill();
  if (!values.data) rmSync(root, { recursive: true, force: true });
}

async function startServer(): Promise<ChildProcess> {
  const bin = fileURLToPath(new URL('../apps/server/bin/blendrak.js', import.meta.url));
  const env = { ...process.env, PORT: values.port, BLENDRAK_DATA: data };
  const started = spawn(process.execPath, [bin, 'serve', '--read', root], {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  for (let k = 0; k < 100; k++) {
    const isUp = await fetch(`${client.url}/api/jobs`).then(
      (r) => r.ok,
      () => false,
    );
    if (isUp) return started;
    await setTimeout(100);
  }
  throw new Error('the server did not answer');
}

/** A job with frames of noise, blurred one by one more, and the sharpest as its merge. */
async function openMerge(): Promise<{ jobId: string; mergeId: string }> {
  const note = join(root, 'bench-page.json');
  if (existsSync(note)) return JSON.parse(readFileSync(note, 'utf8')) as { jobId: string; mergeId: string };
  const card = join(root, 'card');
  mkdirSync(card);
  const noise = { type: 'gaussian' as const, mean: 128, sigma: 45 };
  const small = { width: WIDTH / 4, height: HEIGHT / 4, channels: 3 as const, background: '#808080', noise };
  const texture = await sharp({ create: small }).resize(WIDTH, HEIGHT).png({ compressionLevel: 1 }).toBuffer();
  for (let k = 0; k < Number(values.frames); k++) {
    const frame = sharp(texture)
      .blur(0.4 + 0.6 * k)
      .jpeg({ quality: 90 });
    await frame.toFile(join(card, `frame${String(k + 1).padStart(2, '0')}.jpg`));
  }
  await sharp(texture).jpeg({ quality: 95 }).toFile(join(root, 'merge.jpg'));
  const { id: jobId } = await client.send<{ id: string }>('POST', '/api/jobs', { name: 'Page' });
  await client.send('POST', `/api/jobs/${jobId}/folder`, { path: card, merge: join(root, 'merge.jpg') });
  await client.send('POST', `/api/jobs/${jobId}/process`, {});
  const { summary, work } = await settled(client, jobId);
  const { mergeId } = summary;
  if (!mergeId) throw new Error(`no merge: ${JSON.stringify(work.filter((w) => w.error))}`);
  await addFindings(mergeId);
  writeFileSync(note, JSON.stringify({ jobId, mergeId }));
  return { jobId, mergeId };
}

/** Findings all over the picture, put into the database while no server has it. */
async function addFindings(mergeId: string): Promise<void> {
  server.kill();
  await new Promise((done) => server.once('exit', done));
  const db = new Database(join(data, 'blendrak.sqlite'));
  const insert = db.prepare('INSERT INTO findings (id, merge_id, seq, body) VALUES (?, ?, ?, ?)');
  for (let k = 0; k < Number(values.findings); k++) {
    const [x, y] = [(k * 3571) % (WIDTH - 200), (k * 2713) % (HEIGHT - 200)];
    const corners = Array.from({ length: 60 }, (_, i) => (i / 30) * Math.PI);
    const body = {
      ...{ defect: 'soft-patch', bbox: { x, y, width: 120, height: 100 }, severity: 90 - (k % 80), confidence: 0.8 },
      polygon: corners.map((a) => [x + 60 + 60 * Math.cos(a), y + 50 + 50 * Math.sin(a)]),
      ...{ cause: 'made for measuring', advice: 'none', measurements: {}, donor: 1, gain: 2, repairable: true },
      frames: [],
    };
    insert.run(`page-${k}`, mergeId, 1000 + k, JSON.stringify(body));
  }
  db.close();
  server = await startServer();
}

/** Strokes all over the picture, until there are so many; the first hundred on one tile. */
async function paint(mergeId: string, count: number): Promise<PlacedOperation[]> {
  const { changed } = await client.get<{ changed: PlacedOperation[] }>(`/api/merges/${mergeId}/operations`);
  const painted = changed.map((o) => placeOperation(o));
  for (let k = painted.length; k < count; k++) {
    const isOnTile = k < 100;
    const x = isOnTile ? 1124 + ((k * 37) % 250) : 1600 + ((k * 977) % (WIDTH - 2300));
    const y = isOnTile ? 1124 + ((k * 53) % 300) : 1600 + ((k * 1613) % (HEIGHT - 2300));
    painted.push(await addStroke(mergeId, x, y, k % Number(values.frames)));
  }
  return painted;
}

async function addStroke(mergeId: string, x: number, y: number, donor: number): Promise<PlacedOperation> {
  const points = Array.from({ length: 30 }, (_, i) => [x + 5 * i, y + 20 * Math.sin(i / 3)] as const);
  const shape = { kind: 'stroke' as const, points, sizePx: 60, hardness: 0.5, strength: 1 };
  const id = randomUUID();
  const operation = { kind: 'paint', donor, shape };
  await client.send('POST', `/api/merges/${mergeId}/changes`, { id, change: { kind: 'add', operation } });
  return placeOperation({ id, donor, shape });
}

async function measureTiles(mergeId: string, before: readonly PlacedOperation[]): Promise<void> {
  const all = [...before];
  for (const [words, x, y] of [
    ['a tile with 100 operations and more', 1024, 1024],
    ['a tile with a few operations', 0, 512],
  ] as const) {
    const times: number[] = [];
    const count = all.length;
    for (let k = 0; k < 12; k++) {
      all.push(await addStroke(mergeId, x + 150, y + 100 + 20 * k, k % 2));
      const region = { x, y, width: 512, height: 512 };
      const state = tileState(all, region, 512);
      const start = performance.now();
      const answer = await fetch(`${client.url}/iiif/r-${mergeId}/${x},${y},512,512/512,512/0/default.jpg?v=${state}`);
      if (!answer.ok) throw new Error(await answer.text());
      await answer.arrayBuffer();
      times.push(performance.now() - start);
    }
    process.stdout.write(`${words}, the first time: ${times[0]!.toFixed(0)} ms\n`);
    print(words, times.slice(2), 'ms');
    while (all.length > count) {
      await undo(client, mergeId);
      all.pop();
    }
  }
}

function undo(on: Client, mergeId: string): Promise<unknown> {
  return on.send('POST', `/api/merges/${mergeId}/changes`, { id: randomUUID(), change: { kind: 'undo' } });
}

interface Watched {
  readonly follow: number[];
  readonly long: number[];
}

async function measurePage(jobId: string, mergeId: string): Promise<void> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    // As in the browser tests: no graphics card helps.
    args: ['--no-sandbox', '--disable-gpu'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const devtools = await browser.newBrowserCDPSession();
  await page.goto(`${client.url}/jobs/${jobId}/bench`);
  await page.getByRole('application', { name: 'Picture' }).waitFor();
  await setTimeout(3000);
  await page.keyboard.press('n');
  await page.keyboard.press('d');
  await setTimeout(3000);
  const full: number[] = [];
  const strokes = await watch(page, async () => void full.push(...(await scrub(page, 6))));
  print('pointer to overlay while painting', strokes.follow, 'ms');
  process.stdout.write(
    `tasks over 50 ms while painting: ${strokes.long.length} (${strokes.long.map(Math.round).join(', ')})\n`,
  );
  print('end of a stroke to its full tiles', full, 'ms');
  await page.keyboard.press('Escape');
  const hovering = await watch(page, () => hover(page));
  print('pointer to overlay with nothing in hand', hovering.follow, 'ms');
  // All over the picture, so that tiles are loaded and dropped.
  for (let k = 0; k < 40; k++) {
    await page.keyboard.press('n');
    await setTimeout(250);
  }
  process.stdout.write(`memory of the page after 40 places: ${await memoryMb(devtools)} MB (processes that render)\n`);
  for (let k = 0; k < 6; k++) await undo(client, mergeId);
  await browser.close();
}

/** Frames and tasks of the page while something is done. */
async function watch(page: Page, work: () => Promise<void>): Promise<Watched> {
  await page.evaluate(() => {
    const seen = { follow: [] as number[], long: [] as number[] };
    const scope = window as unknown as { seen: typeof seen; stop: () => void };
    scope.seen = seen;
    const observer = new PerformanceObserver((list) => seen.long.push(...list.getEntries().map((e) => e.duration)));
    observer.observe({ type: 'longtask' });
    const ended = new AbortController();
    // A frame that was asked for after the overlay's own is run behind it: then it has been drawn.
    window.addEventListener(
      'pointermove',
      (event) => void requestAnimationFrame(() => seen.follow.push(performance.now() - event.timeStamp)),
      { signal: ended.signal },
    );
    scope.stop = () => {
      observer.disconnect();
      ended.abort();
    };
  });
  await work();
  return page.evaluate(() => {
    const scope = window as unknown as { seen: Watched; stop: () => void };
    scope.stop();
    return scope.seen;
  });
}

/** @returns for each stroke, how long after its end the last of its tiles had come, ms */
async function scrub(page: Page, strokes: number): Promise<number[]> {
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  const taken: number[] = [];
  let last = 0;
  page.on('requestfinished', (request) => {
    if (request.url().includes('/iiif/r-')) last = performance.now();
  });
  for (let s = 0; s < strokes; s++) {
    await page.mouse.move(box.x + 200, box.y + 150 + 40 * s);
    await page.mouse.down();
    for (let k = 0; k < 60; k++) {
      await page.mouse.move(box.x + 200 + 8 * k, box.y + 150 + 40 * s + 30 * Math.sin(k / 4));
      await setTimeout(12);
    }
    await page.mouse.up();
    const ended = performance.now();
    await setTimeout(1500);
    if (last > ended) taken.push(last - ended);
  }
  return taken;
}

async function hover(page: Page): Promise<void> {
  const box = (await page.getByRole('application', { name: 'Picture' }).boundingBox())!;
  for (let k = 0; k < 150; k++) {
    await page.mouse.move(box.x + 100 + 5 * k, box.y + 250 + 100 * Math.sin(k / 9));
    await setTimeout(12);
  }
}

async function memoryMb(devtools: CDPSession): Promise<number> {
  const { processInfo } = await devtools.send('SystemInfo.getProcessInfo');
  const kb = processInfo
    .filter((p) => p.type === 'renderer')
    .map((p) => Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${p.id}/smaps_rollup`, 'utf8'))?.[1] ?? 0));
  return Math.round(Math.max(...kb) / 1024);
}

function print(name: string, list: readonly number[], unit: string): void {
  const sorted = list.toSorted((a, b) => a - b);
  const at = (share: number): string =>
    sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]!.toFixed(0);
  process.stdout.write(`${name}: median ${at(0.5)} ${unit}, 95 % within ${at(0.95)} ${unit} (${list.length})\n`);
}
