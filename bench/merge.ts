// How good and how fast our own merges are: fresh sets shot, merged by the command a user has, held against truth.
// npx tsx bench/merge.ts [--kinds panorama,bracket,focus-stack] [--scenes 4] [--size 1200] [--seed N] [--keep FOLDER]
//   [--method M] [--faulty] [--native]   (needs the built server: npm run build)
// --faulty keeps shaken frames and parallax; --native also runs a plain chain of stock parts (needs Debian's python3-opencv).
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { kindSchema, reportSchema, type MergeKind, type Report } from '@blendrak/contract';
import { planSet } from '@blendrak/scene';
import { measureProcess, type MeasuredProcess } from './measureProcess';

process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
process.env['BLENDRAK_CAMERA'] ??= resolve('apps/server/dist/cameraWorker.js');
const { freshCommission } = await import('@blendrak/evaluate');
const { openCamera, photograph } = await import('../apps/server/src/services/camera');
const { scoreOwnMerge } = await import('../apps/server/src/services/camera/evaluate');

const { values } = parseArgs({
  options: {
    kinds: { type: 'string', default: 'panorama,bracket,focus-stack' },
    scenes: { type: 'string', default: '4' },
    size: { type: 'string', default: '1200' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
    keep: { type: 'string' },
    method: { type: 'string' },
    faulty: { type: 'boolean', default: false },
    native: { type: 'boolean', default: false },
  },
});
const root = values.keep ?? mkdtempSync(join(tmpdir(), 'blendrak-merge-'));
const camera = openCamera();

type Score = Awaited<ReturnType<typeof scoreOwnMerge>>;

function quantile(list: readonly number[], q: number): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] ?? NaN;
}

async function checked(run: Promise<MeasuredProcess>): Promise<MeasuredProcess> {
  const done = await run;
  // 1 says that the report lists findings.
  if (done.code !== 0 && done.code !== 1) throw new Error(done.err);
  return done;
}

function own(kind: MergeKind, frames: string, out: string, report?: string): Promise<MeasuredProcess> {
  const method = values.method === undefined ? [] : ['--method', values.method];
  const into = report === undefined ? [] : ['--report', report];
  const args = ['merge', frames, '--kind', kind, '--out', out, ...method, ...into];
  return checked(measureProcess(process.execPath, [resolve('apps/server/bin/blendrak.js'), ...args]));
}

function native(kind: MergeKind, frames: string, out: string, reference = ''): Promise<MeasuredProcess> {
  const args = [resolve('bench/native/chain.py'), kind, frames, out, ...(reference === '' ? [] : [reference])];
  return checked(measureProcess('/usr/bin/python3', args));
}

function line(name: string, run: MeasuredProcess, score: Score | null): string {
  const cost = `${run.seconds.toFixed(1)} s, peak ${(run.peakMb / 1024).toFixed(2)} GB`;
  if (!score) return `  ${name}: ${cost}\n`;
  const { haloWidthsPx: halos, lineErrorsPx: lines, pairErrorsPx: pairs } = score;
  return (
    `  ${name}: SSIM ${score.similarity.toFixed(4)} over ${(100 * score.stillShare).toFixed(0)} % at rest, PSNR ${score.psnrDb.toFixed(1)} dB` +
    (name === 'own' ? `, pairs ${quantile(pairs, 0.5).toFixed(3)} px (worst ${Math.max(...pairs).toFixed(3)})` : '') +
    (lines.length > 0
      ? `, lines ${quantile(lines, 0.5).toFixed(2)} px (95 % ${quantile(lines, 0.95).toFixed(2)})`
      : '') +
    (halos.length > 0
      ? `, near edges ${((100 * halos.filter((w) => w > 0).length) / halos.length).toFixed(0)} % of ${halos.length} spoilt, 90 % ${quantile(halos, 0.9)} px, 95 % ${quantile(halos, 0.95)} px`
      : '') +
    (score.leanDeg === null ? '' : `, lean ${score.leanDeg.toFixed(2)}°`) +
    `, ${cost}\n`
  );
}

function referenceOf(report: Report): string {
  return (
    report.frames.find((f) => f.alignment.matrix.every((v, i) => Math.abs(v - [1, 0, 0, 0, 1, 0, 0, 0, 1][i]!) < 1e-6))
      ?.file ?? ''
  );
}

for (const kind of values.kinds.split(',').map((k) => kindSchema.parse(k))) {
  const scores: Score[] = [];
  for (let k = 0; k < Number(values.scenes); k++) {
    // Sets that lack a slice say nothing of merging; the two whole ones of every four take turns, and with them the subjects.
    const seed = Number(values.seed) + (kind === 'focus-stack' ? 4 * k + 2 + (k % 2) - (Number(values.seed) % 4) : k);
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
    // The report is asked for apart: of a focus stack it costs an inspection.
    const time = await own(kind, frames, out);
    await own(kind, frames, out, path);
    const report = reportSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
    const score = await scoreOwnMerge(camera, scene, kind, out, report, folder, async (from, to) => {
      await own(kind, from, to);
    });
    scores.push(score);
    const { width, height } = report.merge;
    process.stdout.write(`${kind} ${assignment.subject} ${seed}: ${names.length} frames → ${width} × ${height}\n`);
    process.stdout.write(line('own', time, score));
    if (values.native) {
      const plain = join(folder, 'native.tif');
      const run = await native(kind, frames, plain, kind === 'focus-stack' ? referenceOf(report) : '');
      // Its panoramas have a canvas of their own, on which no truth is known.
      const held =
        kind === 'panorama'
          ? null
          : await scoreOwnMerge(camera, scene, kind, plain, report, folder, async (from, to) => {
              await native(kind, from, to);
            });
      process.stdout.write(line('native', run, held));
      process.stdout.write(
        `  ratio: ${(time.seconds / run.seconds).toFixed(2)} of its time, ${(time.peakMb / run.peakMb).toFixed(2)} of its memory\n`,
      );
    }
    if (!values.keep) rmSync(folder, { recursive: true });
  }
  const pairs = scores.flatMap((s) => s.pairErrorsPx);
  const similarity = scores.map((s) => s.similarity);
  process.stdout.write(
    `${kind}: SSIM ${quantile(similarity, 0.5).toFixed(4)} median, ${Math.min(...similarity).toFixed(4)} worst; ` +
      `PSNR ${quantile(
        scores.map((s) => s.psnrDb),
        0.5,
      ).toFixed(1)} dB; ` +
      `alignment ${quantile(pairs, 0.5).toFixed(3)} px median, ${quantile(pairs, 0.95).toFixed(3)} at 95 %\n`,
  );
}
await camera.close();
