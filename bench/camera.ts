// The simulated camera: seconds per frame on one core and peak memory, by subject and size.
// npx tsx bench/camera.ts [--megapixels 12] [--seed N] [--subject cove]   (one process per subject, so that peaks are its own)
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { defaultSettings, frameSize, planSet, SUBJECTS, type Assignment, type Subject } from '@blendrak/scene';
import { expose } from '../apps/server/src/services/camera/cameraTasks';
import { createRaw, type RawPicture } from '../apps/server/src/services/camera/rawFile';

const { values } = parseArgs({
  options: {
    megapixels: { type: 'string', default: '12' },
    seed: { type: 'string', default: String(Date.now() % 100000) },
    subject: { type: 'string' },
  },
});

if (values.subject === undefined) {
  process.stdout.write(`seed ${values.seed}, frames of ${values.megapixels} MP, one thread\n`);
  for (const subject of SUBJECTS) {
    const options = ['--megapixels', values.megapixels, '--seed', values.seed, '--subject', subject];
    spawnSync(process.execPath, [...process.execArgv, fileURLToPath(import.meta.url), ...options], {
      stdio: 'inherit',
    });
  }
} else {
  measure(values.subject as Subject);
}

function measure(subject: Subject): void {
  const longSide = Math.round(Math.sqrt((Number(values.megapixels) * 1e6 * 4) / 3));
  const settings = defaultSettings(subject);
  const assignment: Assignment = {
    subject,
    seed: Number(values.seed),
    frames: 3,
    ...frameSize(subject, longSide),
    settings,
  };
  const { width, height } = assignment;
  const folder = mkdtempSync(join(tmpdir(), 'blendrak-camera-'));
  const out: RawPicture = { path: join(folder, 'frame.raw'), width, height, bits: 8 };
  createRaw(out);
  const shot = planSet(assignment).shots.length >> 1;
  const start = performance.now();
  expose({ assignment, shot, region: { x: 0, y: 0, width, height }, hand: false, ideal: false, out });
  const seconds = (performance.now() - start) / 1000;
  rmSync(folder, { recursive: true });
  const kb = /VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'));
  const megapixels = (width * height) / 1e6;
  process.stdout.write(
    `${subject.padEnd(14)} ${megapixels.toFixed(1).padStart(5)} MP  ${seconds.toFixed(1).padStart(6)} s  ` +
      `${(seconds / megapixels).toFixed(2)} s/MP  peak ${(Number(kb?.[1] ?? 0) / 1024).toFixed(0)} MB\n`,
  );
}
