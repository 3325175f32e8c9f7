// How well cards are sorted: simulated cards of mixed sets, with and without separators and settings, against what was shot.
// npx tsx bench/sort.ts [--cards 30] [--size 480] [--seed N] [--keep FOLDER]      (needs the built camera: npm run build)
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { defaultSettings, frameSize, makeRandom, type Subject } from '@blendrak/scene';
import type { CardSet, CardTruth } from '../apps/server/src/services/camera';

process.env['BLENDRAK_WORKER'] ??= resolve('apps/server/dist/worker.js');
process.env['BLENDRAK_CAMERA'] ??= resolve('apps/server/dist/cameraWorker.js');
const { openCamera, shootCard } = await import('../apps/server/src/services/camera');
const { openPool } = await import('../apps/server/src/jobs');
const { sortPictures } = await import('../apps/server/src/services/sort/sortPictures');

const { values } = parseArgs({
  options: {
    cards: { type: 'string', default: '30' },
    size: { type: 'string', default: '480' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
    keep: { type: 'string' },
  },
});
const first = Number(values.seed);
const size = Number(values.size);

/** Subjects with the frames they usually get: from, to. */
const SHELF: readonly (readonly [Subject, number, number])[] = [
  ['gear-train', 5, 10],
  ['signal-flags', 5, 9],
  ['cove', 3, 5],
  ['tower', 2, 2],
  ['lamp-room', 3, 7],
];

function inventCard(seed: number): { sets: CardSet[]; settings: boolean } {
  const random = makeRandom(seed * 7919 + 17);
  const settings = seed % 3 !== 2;
  const separators = seed % 2 === 0;
  const sets = Array.from({ length: 3 + Math.floor(random() * 3) }, (_, k): CardSet => {
    const [subject, low, high] = SHELF[Math.floor(random() * SHELF.length)]!;
    const count = low + Math.floor(random() * (high - low + 1));
    const frames = subject === 'lamp-room' ? 3 + 2 * Math.floor(random() * 3) : count;
    const base = defaultSettings(subject);
    const rows = subject === 'cove' && random() < 0.3 ? 2 : 1;
    const support = random() < 0.25 ? ('hand' as const) : ('tripod' as const);
    return {
      assignment: {
        subject,
        seed: seed * 10 + k,
        frames,
        ...frameSize(subject, size),
        settings: { ...base, rows, support, wind: random() * 1.5 },
      },
      separator: separators || random() < 0.1,
      missing: null,
      pauseS: 35 + random() * 120,
    };
  });
  return { sets, settings };
}

interface Score {
  sets: number;
  exact: number;
  kindRight: number;
  separators: number;
  separatorsFound: number;
  falseSeparators: number;
}
const zero = (): Score => ({ sets: 0, exact: 0, kindRight: 0, separators: 0, separatorsFound: 0, falseSeparators: 0 });
const scores: Record<string, Score> = { 'with settings': zero(), 'without settings': zero() };

function count(
  score: Score,
  truth: CardTruth,
  found: Awaited<ReturnType<typeof sortPictures>>['report'],
  card: number,
): void {
  for (const set of truth.sets) {
    score.sets += 1;
    const same = found.sets.find((s) => s.frames.join() === set.frames.join());
    if (same) score.exact += 1;
    if (same?.kind === set.kind) score.kindRight += 1;
    if (same?.kind !== set.kind) {
      const near = found.sets.filter((s) => s.frames.some((f) => set.frames.includes(f)));
      process.stdout.write(
        `  card ${card}: ${set.kind} ${set.frames[0]}…${set.frames.at(-1)} came out as ${near.map((s) => `${s.kind} ${s.frames[0]}…${s.frames.at(-1)}`).join(', ') || 'nothing'}\n`,
      );
    }
  }
  score.separators += truth.separators.length;
  score.separatorsFound += found.separators.filter((s) => truth.separators.includes(s)).length;
  score.falseSeparators += found.separators.filter((s) => !truth.separators.includes(s)).length;
}

const root = values.keep ? resolve(values.keep) : mkdtempSync(join(tmpdir(), 'blendrak-cards-'));
mkdirSync(root, { recursive: true });
process.stdout.write(`seed ${first}: ${values.cards} cards, frames of ${size} px\n`);
const camera = openCamera();
const pool = openPool();
let seconds = 0;
let files = 0;
for (let k = 0; k < Number(values.cards); k++) {
  const { sets, settings } = inventCard(first + k);
  const folder = join(root, `card${k}`);
  mkdirSync(folder, { recursive: true });
  const truth = await shootCard(camera, sets, folder, { settings });
  if (values.keep) writeFileSync(`${folder}.json`, JSON.stringify(truth));
  const start = performance.now();
  const paths = readdirSync(folder)
    .sort()
    .map((f) => join(folder, f));
  const { report } = await sortPictures(paths, root, {
    run: pool.run,
    parallel: pool.threads,
    onProgress: () => undefined,
  });
  seconds += (performance.now() - start) / 1000;
  files += paths.length;
  count(scores[settings ? 'with settings' : 'without settings']!, truth, report, first + k);
  if (!values.keep) rmSync(folder, { recursive: true });
}
await camera.close();
await pool.close();
for (const [name, s] of Object.entries(scores)) {
  process.stdout.write(
    `${name}: ${s.sets} sets, ${s.exact} with exactly their frames, ${s.kindRight} of these of the right kind; ` +
      `${s.separatorsFound} of ${s.separators} separators found, ${s.falseSeparators} false\n`,
  );
}
process.stdout.write(`${files} files sorted in ${seconds.toFixed(1)} s\n`);
