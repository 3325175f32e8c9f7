// Wall time by step and peak memory of `blendrak inspect`, from files to findings, on a rendered focus stack.
// npm run build && npx tsx bench/stack.ts [--width 6000] [--frames 12] [--seed N] [--folder KEPT]
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { defaultSettings, EVERY_FAULT } from '@blendrak/scene';
import { memoryKb } from './measureProcess';
import { composeElsewhere, leaveOut, openCamera, photograph } from '../apps/server/src/services/camera';

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

process.env['BLENDRAK_CAMERA'] ??= join(root, 'apps/server/dist/cameraWorker.js');
if (!existsSync(merge)) await render();
process.stdout.write(`${frames} frames of ${width} × ${height} px in ${folder}\n`);
await measure();

/** Photographs the set with both cores; one shot in the middle is left out, as in the demo. */
async function render(): Promise<void> {
  const camera = openCamera();
  const assignment = {
    subject: 'gear-train',
    seed,
    width,
    height,
    frames: frames + 1,
    settings: defaultSettings('gear-train'),
  } as const;
  const rawFolder = join(folder, 'raw');
  const quiet = { rawFolder, onProgress: () => undefined };
  const set = await photograph(camera, assignment, folder, { ...quiet, format: 'jpeg', bits: 8 });
  const missing = Math.floor((frames + 1) * 0.6);
  const merges = join(folder, 'merges');
  mkdirSync(merges, { recursive: true });
  const made = await composeElsewhere(camera, set, merges, {
    ...quiet,
    faults: EVERY_FAULT,
    seed,
    subtle: 0,
    moments: false,
    leaveOut: missing,
  });
  renameSync(made.faulty, merge);
  leaveOut(set, missing);
  rmSync(merges, { recursive: true });
  rmSync(rawFolder, { recursive: true });
  await camera.close();
}

async function measure(): Promise<void> {
  const report = join(folder, 'report.json');
  const options = ['--merge', merge, '--report', report, '--json-progress'];
  const start = performance.now();
  const child = spawn('node', [join(root, 'apps/server/bin/blendrak.js'), 'inspect', folder, ...options], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const used = new Map<string, number>();
  let now = 'start';
  const sampler = setInterval(() => {
    used.set(now, Math.max(used.get(now) ?? 0, memoryKb(child.pid, 'VmRSS') / 1024));
  }, 100);
  const seconds = new Map<string, number>();
  let before = start;
  for await (const line of createInterface({ input: child.stdout })) {
    const { step } = JSON.parse(line) as { step: string };
    const at = performance.now();
    seconds.set(step, (seconds.get(step) ?? 0) + (at - before) / 1000);
    before = at;
    now = step;
  }
  const total = (performance.now() - start) / 1000;
  clearInterval(sampler);
  const line = (step: string, s: number, mb: number): void => {
    process.stdout.write(`${step.padEnd(10)} ${s.toFixed(1).padStart(7)} s ${mb.toFixed(0).padStart(7)} MB\n`);
  };
  for (const [step, s] of seconds) line(step, s, used.get(step) ?? 0);
  line('whole', total, Math.max(...used.values()));
  const { findings } = JSON.parse(readFileSync(report, 'utf8')) as { findings: { defect: string }[] };
  const kinds = [...new Set(findings.map((f) => f.defect))];
  const words = kinds.map((kind) => `${findings.filter((f) => f.defect === kind).length} ${kind}`);
  process.stdout.write(`findings   ${words.join(', ')}; files ${readdirSync(folder).length}\n`);
}
