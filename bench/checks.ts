// What the frame checks find of faults that were seeded, and what they find in sound sets.
// npx tsx bench/checks.ts [--seeds 4] [--size 1200] [--seed N]      (needs the built camera: npm run build)
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { defaultSettings, frameSize, type ShootSettings, type Subject } from '@blendrak/scene';
import type { CheckName } from '@blendrak/core/sort';

process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
process.env['BLENDRAK_CAMERA'] ??= resolve('apps/server/dist/cameraWorker.js');
const { openCamera, shootCard } = await import('../apps/server/src/services/camera');
const { openPool } = await import('../apps/server/src/jobs');
const { sortPictures } = await import('../apps/server/src/services/sort/sortPictures');

const { values } = parseArgs({
  options: {
    seeds: { type: 'string', default: '4' },
    size: { type: 'string', default: '1200' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
  },
});

interface Trial {
  readonly name: string;
  readonly subject: Subject;
  readonly frames: number;
  readonly settings?: Partial<ShootSettings>;
  readonly missing?: number;
  /** What ought to be found; null for a sound set. */
  readonly check: CheckName | null;
}

const TRIALS: readonly Trial[] = [
  { name: 'stack, sound', subject: 'signal-flags', frames: 6, check: null },
  { name: 'stack, a slice left out', subject: 'signal-flags', frames: 7, missing: 3, check: 'missing-step' },
  {
    name: 'stack, light fading',
    subject: 'signal-flags',
    frames: 6,
    settings: { lightDriftEvPerMin: -3 },
    check: 'brightness',
  },
  { name: 'bracket, sound', subject: 'lamp-room', frames: 5, check: null },
  { name: 'bracket, one shaken', subject: 'lamp-room', frames: 5, settings: { shakenFrame: 2 }, check: 'shake' },
  { name: 'bracket, one left out', subject: 'lamp-room', frames: 7, missing: 3, check: 'missing-step' },
  { name: 'panorama, sound', subject: 'cove', frames: 3, check: null },
  {
    name: 'panorama, light fading',
    subject: 'cove',
    frames: 3,
    settings: { lightDriftEvPerMin: -5, intervalS: 6 },
    check: 'brightness',
  },
  {
    name: 'panorama, lens uncorrected',
    subject: 'cove',
    frames: 3,
    settings: { uncorrected: true },
    check: 'vignetting',
  },
];

const camera = openCamera();
const pool = openPool();
const first = Number(values.seed);
process.stdout.write(`seed ${first}: ${values.seeds} of each, frames of ${values.size} px\n`);
for (const trial of TRIALS) {
  let found = 0;
  const others: string[] = [];
  for (let k = 0; k < Number(values.seeds); k++) {
    const folder = mkdtempSync(join(tmpdir(), 'blendrak-checks-'));
    const { subject, frames } = trial;
    const settings = { ...defaultSettings(subject), ...trial.settings };
    const assignment = { subject, seed: first + k, frames, ...frameSize(subject, Number(values.size)), settings };
    await shootCard(camera, [{ assignment, separator: false, missing: trial.missing ?? null, pauseS: 0 }], folder, {
      settings: true,
    });
    const paths = readdirSync(folder)
      .sort()
      .map((f) => join(folder, f));
    const { report } = await sortPictures(paths, folder, {
      run: pool.run,
      parallel: pool.threads,
      onProgress: () => undefined,
    });
    const checks = report.sets.flatMap((s) => s.checks).filter((c) => c.spoils || c.check === trial.check);
    if (checks.some((c) => c.check === trial.check)) found += 1;
    others.push(...checks.filter((c) => c.check !== trial.check).map((c) => c.check));
    rmSync(folder, { recursive: true });
  }
  const hits = trial.check === null ? '' : `${trial.check} found in ${found} of ${values.seeds}; `;
  process.stdout.write(
    `${trial.name.padEnd(28)} ${hits}${others.length} other alarms${others.length > 0 ? ` (${[...new Set(others)].join(', ')})` : ''}\n`,
  );
}
await Promise.all([camera.close(), pool.close()]);
