// A simulated card through files: three sets and their hands in one folder, sorted by looking at the files.
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { frameCheckSchema, setsReportSchema } from '@blendrak/contract';
import { CHECKS } from '@blendrak/core/sort';
import { defaultSettings, frameSize, type Subject } from '@blendrak/scene';
import { shootingRange } from '../../testing/shotSets';
import { shootCard, type CardSet, type CardTruth } from '../camera';
import { sortPictures, type SortedPictures } from './sortPictures';

const { root, camera, pool } = shootingRange();

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
  writeFileSync(join(folder, 'layers.ora'), 'not layers either');
  const paths = readdirSync(folder)
    .sort()
    .map((f) => join(folder, f));
  sorted = await sortPictures(paths, root, { run: pool.run, parallel: 2, onProgress: () => undefined });
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

it('every check that can be made has its word in the report', () => {
  expect([...frameCheckSchema.shape.check.options].sort()).toEqual([...CHECKS].sort());
});

it('files that cannot be read are named and spoil nothing else', () => {
  expect(sorted.unreadable.map((u) => u.file).sort()).toEqual(['layers.ora', 'notes.jpg']);
  for (const { file, problem } of sorted.unreadable) {
    expect(problem).toContain(file);
    expect(sorted.report.unassigned).toContain(file);
  }
});

it('the pages of one file are sorted like files of their own', async () => {
  const card = join(root, 'card');
  const bracket = truth.sets[1]!.frames.map((f) => join(card, f));
  const paged = join(root, 'pages.tif');
  const { width, height } = await sharp(bracket[0]).metadata();
  const tall = await sharp(bracket, { join: { across: 1 } })
    .raw()
    .toBuffer();
  await sharp(tall, { raw: { width, height: 3 * height, channels: 3, pageHeight: height } })
    .tiff()
    .toFile(paged);
  const { report } = await sortPictures([paged], root, { run: pool.run, parallel: 2, onProgress: () => undefined });
  expect(report.sets.map((s) => [s.kind, s.frames.length])).toEqual([['bracket', 3]]);
});
