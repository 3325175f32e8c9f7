// Wall time by step and peak memory of `blendrak inspect`, from files to findings, on a rendered focus stack.
// npm run build && npx tsx bench/stack.ts [--width 6000] [--frames 12] [--seed N] [--folder KEPT]
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import Piscina from 'piscina';
import type { ComposeRequest, ShootRequest, ShootResult } from '../apps/server/src/services/camera/cameraWorker';

const { values } = parseArgs({
  options: {
    width: { type: 'string', default: '6000' },
    frames: { type: 'string', default: '12' },
    seed: { type: 'string', default: String(Date.now() % 100000) },
    folder: { type: 'string' },
  },
});
const width = Number(values.width);
const height = Math.round((width * 2) / 3);
const frames = Number(values.frames);
const seed = Number(values.seed);
const folder = values.folder ?? mkdtempSync(join(tmpdir(), 'blendrak-bench-'));
mkdirSync(folder, { recursive: true });
const merge = join(folder, 'merge.tif');
const root = fileURLToPath(new URL('..', import.meta.url));

if (!existsSync(merge)) await render();
process.stdout.write(`${frames} frames of ${width} × ${height} px in ${folder}\n`);
await measure();

/** Photographs the set with both cores; one shot in the middle is left out, as in the demo. */
async function render(): Promise<void> {
  const pool = new Piscina({ filename: join(root, 'apps/server/dist/cameraWorker.js'), maxThreads: 2 });
  const count = frames + 1;
  const missing = Math.floor(count * 0.6);
  const shots = Array.from({ length: count }, (_, index) => ({ index, path: join(folder, `shot${index}.jpg`) }));
  const shoot = (share: typeof shots): Promise<ShootResult> => {
    const request: ShootRequest = { action: 'shoot', seed, width, height, count, shots: share };
    return pool.run(request) as Promise<ShootResult>;
  };
  const parts = await Promise.all([0, 1].map((t) => shoot(shots.filter((s) => s.index % 2 === t))));
  const paths = shots
    .filter((s) => s.index !== missing)
    .map(({ path }, i) => {
      const named = join(folder, `frame${String(i + 1).padStart(2, '0')}.jpg`);
      renameSync(path, named);
      return named;
    });
  const all = parts.flatMap((p) => p.frames).sort((a, b) => a.index - b.index);
  const { depthMm } = parts[0]!;
  const out = join(folder, 'composing.part');
  const compose: ComposeRequest = {
    action: 'compose',
    seed,
    width,
    height,
    count,
    depthMm,
    frames: all,
    missing,
    paths,
    out,
  };
  await pool.run(compose);
  renameSync(join(folder, `shot${missing}.jpg`), join(folder, 'left-out.bin'));
  renameSync(out, merge);
  await pool.destroy();
}

async function measure(): Promise<void> {
  const report = join(folder, 'report.json');
  const options = ['--merge', merge, '--report', report, '--json-progress'];
  const start = performance.now();
  const child = spawn('node', [join(root, 'apps/server/dist/cli.js'), 'inspect', folder, ...options], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let peakMb = 0;
  const sampler = setInterval(() => {
    peakMb = Math.max(peakMb, peakOf(child.pid!));
  }, 200);
  const seconds = new Map<string, number>();
  let before = start;
  for await (const line of createInterface({ input: child.stdout })) {
    const { step } = JSON.parse(line) as { step: string };
    const now = performance.now();
    seconds.set(step, (seconds.get(step) ?? 0) + (now - before) / 1000);
    before = now;
  }
  const total = (performance.now() - start) / 1000;
  clearInterval(sampler);
  for (const [step, s] of seconds) process.stdout.write(`${step.padEnd(10)} ${s.toFixed(1).padStart(7)} s\n`);
  process.stdout.write(`whole      ${total.toFixed(1).padStart(7)} s, peak memory ${peakMb.toFixed(0)} MB\n`);
  const { findings } = JSON.parse(readFileSync(report, 'utf8')) as { findings: { defect: string }[] };
  const kinds = [...new Set(findings.map((f) => f.defect))];
  const words = kinds.map((kind) => `${findings.filter((f) => f.defect === kind).length} ${kind}`);
  process.stdout.write(`findings   ${words.join(', ')}; files ${readdirSync(folder).length}\n`);
}

/** Largest resident size so far in MB, as Linux tells it; 0 once the process is gone. */
function peakOf(pid: number): number {
  const path = `/proc/${pid}/status`;
  if (!existsSync(path)) return 0;
  const kb = /VmHWM:\s+(\d+)/.exec(readFileSync(path, 'utf8'));
  return kb ? Number(kb[1]) / 1024 : 0;
}
