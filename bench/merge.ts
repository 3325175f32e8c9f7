// How good and how fast our own merges are: fresh sets shot, merged by the command a user has, held against truth.
// npx tsx bench/merge.ts [--kinds panorama,bracket,focus-stack] [--scenes 4] [--size 1200] [--seed N] [--keep FOLDER] [--faulty]
// (needs the built server: npm run build)
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { kindSchema, reportSchema } from '@blendrak/contract';
import { planSet } from '@blendrak/scene';

process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
process.env['BLENDRAK_CAMERA'] ??= resolve('apps/server/dist/cameraWorker.js');
const { freshCommission, openCamera, photograph } = await import('../apps/server/src/services/camera');
const { scoreOwnMerge } = await import('../apps/server/src/services/camera/evaluate');
const { mergeCommand } = await import('../apps/server/src/cli/commands');

const { values } = parseArgs({
  options: {
    kinds: { type: 'string', default: 'panorama,bracket,focus-stack' },
    scenes: { type: 'string', default: '4' },
    size: { type: 'string', default: '1200' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
    keep: { type: 'string' },
    method: { type: 'string' },
    faulty: { type: 'boolean', default: false },
  },
});
const root = values.keep ?? mkdtempSync(join(tmpdir(), 'blendrak-merge-'));
const camera = openCamera();
const middle = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1] ?? NaN;

for (const kind of values.kinds.split(',').map((k) => kindSchema.parse(k))) {
  const all: { similarity: number; psnrDb: number; pairs: number[] }[] = [];
  for (let k = 0; k < Number(values.scenes); k++) {
    // Sets that lack a slice say nothing of merging.
    const seed = Number(values.seed) + (kind === 'focus-stack' ? 4 * k + 2 - (Number(values.seed) % 4) : k);
    const commissioned = freshCommission(kind, seed, Number(values.size)).assignment;
    // A shaken frame or one shot off the pupil cannot come near an ideal: that says nothing of the merging.
    const sound = { shakenFrame: null, fringedFrame: null, pupilOffsetMm: 0 };
    const assignment = values.faulty
      ? commissioned
      : { ...commissioned, settings: { ...commissioned.settings, ...sound } };
    const folder = join(root, `${kind}-${seed}`);
    const frames = join(folder, 'frames');
    mkdirSync(folder, { recursive: true });
    const plan = planSet(assignment);
    // Frames that were kept are used again: what changed is the merging.
    if (!existsSync(frames)) {
      const rawFolder = join(folder, 'raw');
      await photograph(camera, assignment, frames, { rawFolder, onProgress: () => undefined, format: 'jpeg', bits: 8 });
      rmSync(rawFolder, { recursive: true });
    }
    const names = readdirSync(frames)
      .filter((f) => f.endsWith('.jpg'))
      .sort();
    const scene = { plan, names, kept: names.map((_, n) => n) };
    const out = join(folder, 'own.tif');
    const path = join(folder, 'own.json');
    const options = { kind, ...(values.method && { method: values.method }) };
    const start = performance.now();
    await mergeCommand(frames, { out, report: path, ...options });
    const seconds = (performance.now() - start) / 1000;
    const report = reportSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
    const score = await scoreOwnMerge(camera, scene, kind, out, report, folder, async (from, to) => {
      await mergeCommand(from, { out: to, ...options });
    });
    all.push({ ...score, pairs: [...score.pairErrorsPx] });
    process.stdout.write(
      `${kind} ${assignment.subject} ${seed}: ${report.merge.width} × ${report.merge.height}, SSIM ${score.similarity.toFixed(4)} over ${(100 * score.stillShare).toFixed(0)} % at rest, PSNR ${score.psnrDb.toFixed(1)} dB, ` +
        `pairs ${middle(score.pairErrorsPx).toFixed(3)} px (worst ${Math.max(...score.pairErrorsPx).toFixed(3)})` +
        `${score.leanDeg === null ? '' : `, lean ${score.leanDeg.toFixed(2)}°`}, ${seconds.toFixed(1)} s\n`,
    );
    if (!values.keep) rmSync(folder, { recursive: true });
  }
  const pairs = all.flatMap((s) => s.pairs).sort((a, b) => a - b);
  process.stdout.write(
    `${kind}: SSIM ${middle(all.map((s) => s.similarity)).toFixed(4)} median, ${Math.min(...all.map((s) => s.similarity)).toFixed(4)} worst; ` +
      `PSNR ${middle(all.map((s) => s.psnrDb)).toFixed(1)} dB; alignment ${middle(pairs).toFixed(3)} px median, ${pairs[Math.floor(0.95 * pairs.length)]?.toFixed(3)} at 95 %\n`,
  );
}
await camera.close();
