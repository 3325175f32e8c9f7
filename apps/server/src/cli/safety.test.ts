// The command line and people's files: no input is overwritten, nothing half written is left, by whatever way it ends.
import { spawn, type ChildProcess } from 'node:child_process';
import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { temporaryFolder } from '../testing/inProcess';
import { until } from '../testing/until';
import { prepareTarget } from './target';
import { withWorkspace } from './workspace';

const { path, clean } = temporaryFolder();
afterAll(clean);
const CLI = join(dirname(process.env['BLENDRAK_WORKER']!), 'cli.js');
const ENTRY = join(dirname(CLI), '..', 'bin', 'blendrak.js');
const frames = join(path, 'frames');
const work = join(path, 'tmp');

beforeAll(async () => {
  for (const folder of [frames, work]) mkdirSync(folder);
  const picture = await sharp({
    create: {
      width: 900,
      height: 700,
      channels: 3,
      background: '#777',
      noise: { type: 'gaussian', mean: 128, sigma: 40 },
    },
  })
    .png()
    .toBuffer();
  for (const name of ['f1.png', 'f2.png', 'f3.png']) writeFileSync(join(frames, name), picture);
  linkSync(join(frames, 'f1.png'), join(path, 'hard link.png'));
  symlinkSync(join(frames, 'f1.png'), join(path, 'soft link.png'));
});

function start(
  args: readonly string[],
  program = CLI,
): { child: ChildProcess; ended: Promise<{ code: number; err: string }> } {
  const child = spawn(process.execPath, [program, ...args], {
    env: { ...process.env, BLENDRAK_TMP: work },
    stdio: 'pipe',
  });
  let err = '';
  child.stderr.on('data', (text: Buffer) => (err += text.toString()));
  return { child, ended: new Promise((done) => child.once('exit', (code) => done({ code: code ?? -1, err }))) };
}

describe('a file that is read is never written', () => {
  const contents = (): Buffer[] => readdirSync(frames).map((name) => readFileSync(join(frames, name)));
  it.each([
    ['a frame as --out', ['merge', frames, '--out', join(frames, 'f2.png')], 'f2.png is one of the pictures'],
    ['a frame by a hard link', ['merge', frames, '--out', join(path, 'hard link.png')], '(f1.png) and would be'],
    ['a frame by a soft link', ['merge', frames, '--out', join(path, 'soft link.png')], '(f1.png) and would be'],
    ['a frame as --report', ['sort', frames, '--report', join(frames, 'f3.png')], '--report: '],
    [
      'the merge as --report',
      ['inspect', frames, '--merge', join(path, 'hard link.png'), '--report', join(path, 'hard link.png')],
      'would be overwritten. Accepted: a file of another name',
    ],
    [
      'the merge that is written as --report',
      ['merge', frames, '--out', join(path, 'x.tif'), '--report', join(path, 'x.tif')],
      'is the merge that is written',
    ],
  ])('%s', async (_, args, words) => {
    const before = contents();
    const { code, err } = await start(args).ended;
    expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
    expect(err).toContain(words);
    expect(contents().every((data, k) => data.equals(before[k]!))).toBe(true);
    expect(readdirSync(path).filter((name) => name.includes('blendrak-part'))).toEqual([]);
  });
});

describe('a file to be written', () => {
  it.each([
    ['in a folder that is not there', join(path, 'none', 'x.tif'), 'its folder is not there'],
    ['that is a folder', frames, 'is a folder'],
    ['below a file', join(path, 'hard link.png', 'x.tif'), 'its folder is a file'],
  ])('%s is refused before the work', (_, target, words) => {
    expect(() => prepareTarget('--out', target, [])).toThrow(words);
  });

  it('is there whole or not at all, and keeps what stood there until then', () => {
    const place = join(path, 'report.json');
    writeFileSync(place, 'old');
    const target = prepareTarget('--report', place, []);
    writeFileSync(target.part, 'half');
    expect(readFileSync(place, 'utf8')).toBe('old');
    target.discard();
    expect([readFileSync(place, 'utf8'), existsSync(target.part)]).toEqual(['old', false]);
    const again = prepareTarget('--report', place, []);
    writeFileSync(again.part, 'new');
    again.commit();
    expect([readFileSync(place, 'utf8'), existsSync(again.part)]).toEqual(['new', false]);
  });

  it('may be a device', () => {
    const target = prepareTarget('--report', '/dev/null', []);
    writeFileSync(target.part, 'nothing');
    target.commit();
    target.discard();
    expect(statSync('/dev/null').isCharacterDevice()).toBe(true);
  });
});

describe('a command that ends early', () => {
  const spaces = (): string[] => readdirSync(work);
  const report = join(path, 'early.json');
  const merging = (program = CLI) =>
    start(['merge', frames, '--kind', 'focus-stack', '--out', join(path, 'm.tif'), '--report', report], program);

  it.each([
    ['SIGINT', 130, CLI],
    ['SIGTERM', 143, CLI],
    ['SIGINT', 130, ENTRY],
    ['SIGTERM', 143, ENTRY],
  ] as const)('by %s, told twice, leaves nothing behind (%d)', async (signal, expected, program) => {
    const { child, ended } = merging(program);
    await until(
      async () => spaces(),
      (names) => names.length > 0,
    );
    child.kill(signal);
    child.kill(signal);
    expect((await ended).code).toBe(expected);
    expect([spaces(), existsSync(report), existsSync(join(path, 'm.tif'))]).toEqual([[], false, false]);
    expect(readdirSync(path).filter((name) => name.includes('blendrak-part'))).toEqual([]);
  });

  it('by kill -9 of the entry point ends soon after, and leaves nothing behind', async () => {
    const { child, ended } = merging(ENTRY);
    await until(
      async () => spaces(),
      (names) => names.length > 0,
    );
    child.kill('SIGKILL');
    await ended;
    await until(
      async () => spaces(),
      (names) => names.length === 0,
    );
    expect([existsSync(report), existsSync(join(path, 'm.tif'))]).toEqual([false, false]);
  });

  it('by kill -9 leaves what the next run removes, and nobody else’s folder', async () => {
    const { child, ended } = merging();
    await until(
      async () => spaces(),
      // A kill before that leaves a folder of which nobody knows whose it is.
      (names) => names.some((name) => existsSync(join(work, name, 'owner.json'))),
    );
    child.kill('SIGKILL');
    await ended;
    const [left] = spaces();
    // One without our note in it, and one whose process lives: this one.
    mkdirSync(join(work, '.blendrak-run-other'));
    mkdirSync(join(work, '.blendrak-run-living'));
    const owner = JSON.parse(readFileSync(join(work, left!, 'owner.json'), 'utf8')) as object;
    const living = JSON.stringify({ ...owner, pid: process.pid, began: null });
    writeFileSync(join(work, '.blendrak-run-living', 'owner.json'), living);
    await withWorkspace((folder) => Promise.resolve(folder), work);
    expect(spaces().sort()).toEqual(['.blendrak-run-living', '.blendrak-run-other']);
  });
});

it('a set is photographed into an empty folder only', async () => {
  const full = join(path, 'full');
  mkdirSync(full);
  copyFileSync(join(frames, 'f1.png'), join(full, '.camera'));
  const { code, err } = await start(['shoot', full, '--subject', 'signal-flags']).ended;
  expect([code, err]).toEqual([
    2,
    expect.stringContaining('there are 1 files in it. Accepted: an empty or a new folder'),
  ]);
  expect(existsSync(join(full, '.camera'))).toBe(true);
});
