// Many sets in one call: found, inspected, taken up again, carried by GNU parallel; and what was found repaired by itself.
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { reportSchema } from '@blendrak/contract';
import { blurredSeries, pasteRect } from '../../../../packages/core/src/testing/stack';
import { greyPixels } from '../../../../packages/core/src/testing/pictures';
import type { Plane } from '@blendrak/core/image';
import { annotationsOf } from '../pipeline';
import { temporaryFolder } from '../testing/inProcess';
import { findSets } from './tree';

const { path: folder, clean } = temporaryFolder();
afterAll(clean);
const CLI = join(dirname(process.env['BLENDRAK_WORKER']!), 'cli.js');
const [W, H] = [400, 320];
const tree = join(folder, 'shoot');
const reports = join(folder, 'reports');

async function save(plane: Plane, path: string): Promise<void> {
  mkdirSync(dirname(path), { recursive: true });
  const { data } = greyPixels(plane, 8);
  await sharp(data as Uint8Array, { raw: { width: W, height: H, channels: 3 } })
    .png()
    .toFile(path);
}

const run = (...args: string[]) => spawnSync(process.execPath, [CLI, ...args], { encoding: 'utf8' });
const lines = (text: string): string[] => text.trim().split('\n');

beforeAll(async () => {
  const planes = blurredSeries(W, H, 31, 1, [0, 1, 2, 3]);
  // Frame 1 is sharp everywhere; the merge shows the softest one in a patch of it.
  for (const [k, plane] of planes.entries()) await save(plane, join(tree, 'day 1', 'plate', `f${k + 1}.png`));
  await save(pasteRect(planes[1]!, planes[3]!, 130, 100, 120, 96), join(tree, 'day 1', 'plate', 'plate MERGE.png'));
  cpSync(join(tree, 'day 1', 'plate'), join(tree, 'day 2', 'plate'), { recursive: true });
  await save(planes[1]!, join(tree, 'day 2', 'plate', 'merge', 'final.png'));
  rmSync(join(tree, 'day 2', 'plate', 'plate MERGE.png'));
  for (const name of ['a.png', 'b.png']) await save(planes[0]!, join(tree, 'unmerged', name));
  writeFileSync(join(tree, 'notes.txt'), 'no set');
});

describe('sets of a tree', () => {
  it('are folders with frames, each with its merge beside them or in a folder of its own', () => {
    const found = findSets(tree, reports, '*merge*');
    expect(found.map((s) => s.folder.slice(tree.length + 1))).toEqual([
      join('day 1', 'plate'),
      join('day 2', 'plate'),
      'unmerged',
    ]);
    expect(found[0]!.merge).toEqual({ path: join(tree, 'day 1', 'plate', 'plate MERGE.png') });
    expect(found[1]!.merge).toEqual({ path: join(tree, 'day 2', 'plate', 'merge', 'final.png') });
    expect(found[2]!.merge).toEqual({ problem: expect.stringContaining('no merge is there') });
  });

  it('say when a merge cannot be told', () => {
    const [first] = findSets(tree, reports, '*.png');
    expect(first).toBeUndefined();
    expect(() => findSets(join(tree, 'nowhere'), reports, '*')).toThrow('the folder cannot be read');
  });
});

describe('a tree', () => {
  it('is inspected set by set; what cannot be used is named and the rest goes on; a second run knows what was done', () => {
    const first = run('tree', tree, '--reports', reports);
    expect(lines(first.stdout)).toEqual([
      expect.stringMatching(/^day 1\/plate: focus stack, 1 found, 1 plain, up to \d+ \(soft-patch 1\)$/),
      'day 2/plate: focus stack, nothing found',
      expect.stringContaining('unmerged: cannot be inspected: no merge is there'),
    ]);
    expect(first.status).toBe(2);
    const path = join(reports, 'day 1', 'plate.json');
    const made = statSync(path).mtimeMs;
    rmSync(join(tree, 'unmerged'), { recursive: true });
    // A frame that changed makes its set new.
    const touched = join(tree, 'day 2', 'plate', 'f1.png');
    utimesSync(touched, new Date(), new Date());
    const again = run('tree', tree, '--reports', reports);
    expect(lines(again.stdout).map((line) => line.endsWith('(known)'))).toEqual([true, false]);
    expect([again.status, statSync(path).mtimeMs]).toEqual([1, made]);
    expect(run('tree', tree, '--reports', reports, '--fail-over', '100').status).toBe(0);
  });

  it('is listed for a batch engine, which needs nothing but files in and files out', () => {
    const list = run('tree', tree, '--reports', join(folder, 'batch'), '--list').stdout;
    expect(lines(list)).toHaveLength(2);
    for (const line of lines(list)) mkdirSync(dirname(line.split('\t')[2]!), { recursive: true });
    const command = `${process.execPath} ${CLI} inspect {1} --merge {2} --report {3}`;
    const log = join(folder, 'batch.log');
    const carried = spawnSync('parallel', ['--colsep', '\t', '-j', '2', '--joblog', log, command], { input: list });
    // GNU parallel counts the jobs that did not leave with 0: the one with findings.
    expect(carried.status).toBe(1);
    const plate = join('day 1', 'plate.json');
    const findings = (from: string): unknown =>
      reportSchema.parse(JSON.parse(readFileSync(join(folder, from, plate), 'utf8'))).findings;
    expect(findings('batch')).toEqual(findings('reports'));
    const summary = run('summary', join(folder, 'batch'));
    expect(lines(summary.stdout).at(-1)).toMatch(/^2 merges: 1 found, 1 plain/);
    expect(summary.status).toBe(1);
  });

  it('without a set, and a folder without reports, are refused', () => {
    const bare = join(folder, 'bare');
    mkdirSync(bare);
    const none = run('tree', bare, '--reports', reports);
    expect([none.status, none.stderr]).toEqual([2, expect.stringContaining('there is no set in it')]);
    expect(run('summary', bare).stderr).toContain('there are no reports in it');
    expect(existsSync(join(bare, 'summary.json'))).toBe(false);
  });
});

it('findings are W3C annotations: outline, box, tag and words', () => {
  const report = reportSchema.parse(JSON.parse(readFileSync(join(reports, 'day 1', 'plate.json'), 'utf8')));
  const [item] = annotationsOf(report, 'plate.tif').items as {
    body: { purpose: string; value: string }[];
    target: { source: string; selector: { type: string; value: string }[] };
  }[];
  expect(item!.body[0]).toMatchObject({ purpose: 'tagging', value: 'soft-patch' });
  expect(item!.body[1]!.value).toMatch(/Visibility \d+ of 100\. To be repaired from f2\.png\.$/);
  expect(item!.target.source).toBe('plate.tif');
  const [box, outline] = item!.target.selector;
  expect(box!.value).toBe(`xywh=pixel:${report.findings[0]!.region.bbox.join(',')}`);
  expect(outline!.value.match(/\d+,\d+/g)!.length).toBe(report.findings[0]!.region.polygon.length);
  expect(execFileSync(process.execPath, [CLI, 'inspect', '--help'], { encoding: 'utf8' })).toContain('--annotations');
});

describe('what a report found', () => {
  const plate = join(tree, 'day 1', 'plate');
  const merge = join(plate, 'plate MERGE.png');
  const report = join(reports, 'day 1', 'plate.json');
  const repair = (out: string, ...rest: string[]) =>
    run('repair', plate, '--merge', merge, '--auto', '--out', join(folder, out), ...rest);
  const grey = async (path: string): Promise<Buffer> =>
    sharp(path).toColourspace('srgb').extractChannel(0).raw({ depth: 'uchar' }).toBuffer();

  it('is repaired by itself: the patch is as it should be, and nothing else has changed', async () => {
    const { status, stdout } = repair('mended.png', '--report', report);
    expect([status, stdout]).toEqual([0, 'f-0001 soft-patch: repaired from f2.png\n']);
    const [faulty, mended, right] = await Promise.all(
      [merge, join(folder, 'mended.png'), join(plate, 'f2.png')].map(grey),
    );
    const rms = (picture: Buffer, isIn: (x: number, y: number) => boolean): number => {
      let [sum, n] = [0, 0];
      picture.forEach((v, i) => {
        if (!isIn(i % W, Math.floor(i / W))) return;
        sum += (v - right![i]!) ** 2;
        n += 1;
      });
      return Math.sqrt(sum / n);
    };
    const patch = (x: number, y: number): boolean => x >= 134 && x < 246 && y >= 104 && y < 192;
    const far = (x: number, y: number): boolean => x < 90 || x >= 290 || y < 60 || y >= 240;
    expect(rms(mended!, patch)).toBeLessThan(0.3 * rms(faulty!, patch));
    expect(rms(mended!, far)).toBeLessThanOrEqual(rms(faulty!, far) + 0.05);
  });

  it('and of another picture, or of no picture at all, is refused before anything is written', () => {
    const other = join(folder, 'other.json');
    const read = JSON.parse(readFileSync(report, 'utf8')) as { merge: object };
    writeFileSync(other, JSON.stringify({ ...read, merge: { ...read.merge, width: 999 } }));
    const wrong = repair('no.png', '--report', other);
    expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('it is of a picture of 999 × 320 px')]);
    writeFileSync(other, 'words');
    expect(repair('no.png', '--report', other).stderr).toContain('cannot be read as JSON');
    expect(repair('no.png', '--report', report, '--over', 'all').stderr).toContain('--over: "all" cannot be used');
    expect(existsSync(join(folder, 'no.png'))).toBe(false);
  });
});
