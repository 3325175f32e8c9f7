// A simulated card through files: three sets and their hands in one folder, sorted by looking at the files.
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setsReportSchema } from '@blendrak/contract';
import { defaultSettings, frameSize, type Subject } from '@blendrak/scene';
import { openPool } from '../../jobs';
import { temporaryFolder } from '../../testing/inProcess';
import { openCamera, shootCard, type CardSet, type CardTruth } from '../camera';
import { sortPictures, type SortedPictures } from './sortPictures';

const { path: root, clean } = temporaryFolder();
const camera = openCamera();
const pool = openPool(2);
afterAll(async () => {
  await Promise.all([camera.close(), pool.close()]);
  clean();
});

const set = (subject: Subject, frames: number, missing: number | null = null): CardSet => ({
  assignment: { subject, seed: 21, frames, ...frameSize(subject, 640), settings: defaultSettings(subject) },
  separator: subject !== 'tower',
  missing,
  pauseS: 60,
});

let truth: CardTruth;
let sorted: SortedPictures;

beforeAll(async () => {
  const folder = join(root, 'card');
  mkdirSync(folder);
  truth = await shootCard(camera, [set('signal-flags', 6, 3), set('lamp-room', 3), set('tower', 2)], folder, {
    settings: true,
  });
  writeFileSync(join(folder, 'notes.jpg'), 'not a picture');
  const paths = readdirSync(folder)
    .sort()
    .map((f) => join(folder, f));
  sorted = await sortPictures(paths, { run: pool.run, parallel: 2, onProgress: () => undefined });
});

it('finds each set with its frames and kind, and the hands between', () => {
  const { sets, separators } = sorted.report;
  expect(sets.map((s) => [s.kind, s.frames])).toEqual(truth.sets.map((s) => [s.kind, s.frames]));
  expect(separators).toEqual(truth.separators);
  expect(setsReportSchema.safeParse(sorted.report).success).toBe(true);
});

it('finds the slice that was never shot, and nothing wrong with the bracket', () => {
  const [stack, bracket] = sorted.report.sets;
  expect(stack!.checks.map((c) => c.check)).toContain('missing-step');
  expect(bracket!.checks.filter((c) => c.spoils)).toEqual([]);
});

it('a file that cannot be read is named and spoils nothing else', () => {
  expect(sorted.unreadable).toHaveLength(1);
  expect(sorted.unreadable[0]!.problem).toContain('notes.jpg');
  expect(sorted.report.unassigned).toContain('notes.jpg');
});
