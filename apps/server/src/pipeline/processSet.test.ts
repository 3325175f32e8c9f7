// Panoramas and brackets photographed with the simulated camera, aligned and merged: against what the camera knows.
import { mkdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import { reportSchema } from '@blendrak/contract';
import { pairErrors } from '@blendrak/evaluate';
import { openTileFile } from '../codecs';
import type { Photographed } from '../services/camera';
import { flatten } from '../testing/flatten';
import { PLATE_FOCAL_PX, PLATE_VIEWS, photographPlate, plateRotation } from '../testing/redPlate';
import { shootingRange } from '../testing/shotSets';
import {
  compareProjections,
  fieldBend,
  findKind,
  makeReport,
  MERGE_DEFAULTS,
  mergeSet,
  type SetPicture,
} from './index';

const { root, pool, steps, shoot, store, freshTiles } = shootingRange();

const noiseFile = async (name: string): Promise<string> => {
  const path = join(root, name);
  await sharp({
    create: {
      width: 480,
      height: 640,
      channels: 3,
      background: '#777',
      noise: { type: 'gaussian', mean: 120, sigma: 40 },
    },
  })
    .jpeg()
    .toFile(path);
  return path;
};

describe('a panorama', () => {
  let set: Photographed;
  let pictures: SetPicture[];
  beforeAll(async () => {
    set = await shoot('cove', 3);
    pictures = await Promise.all(set.files.map((f) => store(f.path)));
  });
  const merge = (frames: readonly SetPicture[], options = MERGE_DEFAULTS) =>
    mergeSet('panorama', frames, options, freshTiles(), steps);

  it('has its frames within half a px of their true places on each other, and covers more than each of them', async () => {
    const merged = await merge(pictures);
    const report = reportSchema.parse(makeReport(merged, 'merge.tif'));
    const names = pictures.map((p) => p.name);
    const errors = pairErrors({ plan: set.plan, names, kept: [0, 1, 2] }, report);
    expect(errors.length).toBeGreaterThanOrEqual(2);
    expect(Math.max(...errors)).toBeLessThan(0.8);
    expect(merged.width).toBeGreaterThan(1.6 * pictures[0]!.width);
    expect(report.frames.map((f) => f.share).reduce((s, v) => s + v, 0)).toBeCloseTo(1, 2);
    expect(report.frames[0]!.alignment).toMatchObject({
      model: 'rotating-camera',
      parameters: { projection: expect.any(String) },
    });
    if (merged.kind !== 'panorama') throw new Error('another kind');
    expect(compareProjections(merged.set).map((p) => p.projection)).toContain('cylindrical');
  });

  it('goes on without a frame of another scene, a mirrored one and one of noise, and says why', async () => {
    const mirrored = join(root, 'mirrored.jpg');
    await sharp(set.files[1]!.path).flop().jpeg({ quality: 95 }).toFile(mirrored);
    const strange = [await store(mirrored), await store(await noiseFile('noise.jpg'))];
    const merged = await merge([...pictures.slice(0, 2), ...strange]);
    expect(merged.frames.map((f) => f.name)).toEqual(pictures.slice(0, 2).map((p) => p.name));
    const why = Object.fromEntries(merged.failed.map((f) => [f.name, f.why]));
    expect(why['mirrored.jpg']).toContain('mirrored');
    expect(why['noise.jpg']).toBeDefined();
  });

  it('shows a frame that was shaken only where no other covers, and names it', async () => {
    const plain = await merge(pictures);
    const path = join(root, 'shaken.png');
    await sharp(set.files[1]!.path).blur(1.6).png().toFile(path);
    const shaken = await merge([pictures[0]!, await store(path), pictures[2]!]);
    expect(plain.remarks).toEqual([]);
    expect(shaken.remarks).toEqual([{ name: 'shaken.png', why: expect.stringContaining('softer than the sharpest') }]);
    expect(shaken.shares![1]!).toBeLessThan(0.85 * plain.shares![1]!);
    // What it alone has is there all the same.
    expect(shaken.width / plain.width).toBeCloseTo(1, 1);
  });

  it('takes a frame that was turned by 90°, and remarks on it', async () => {
    const turnedFile = join(root, 'turned.jpg');
    await sharp(set.files[1]!.path).rotate(90).jpeg({ quality: 95 }).toFile(turnedFile);
    const merged = await merge([pictures[0]!, await store(turnedFile), pictures[2]!]);
    expect(merged.frames).toHaveLength(3);
    expect(merged.remarks.find((r) => r.name === 'turned.jpg')?.why).toContain('turned on its side');
  });

  it('names a frame whose zoom was moved, and merges it with the others', async () => {
    const { width, height } = pictures[1]!;
    const zoomed = join(root, 'zoomed.jpg');
    const [w, h] = [Math.round(width / 1.06), Math.round(height / 1.06)];
    await sharp(set.files[1]!.path)
      .extract({ left: Math.round((width - w) / 2), top: Math.round((height - h) / 2), width: w, height: h })
      .resize(width, height, { fit: 'fill', kernel: 'cubic' })
      .jpeg({ quality: 95 })
      .toFile(zoomed);
    const merged = await merge([pictures[0]!, await store(zoomed), pictures[2]!]);
    expect(merged.frames).toHaveLength(3);
    expect(merged.remarks.find((r) => r.name === 'zoomed.jpg')?.why).toContain('the zoom was moved');
  });

  it('lays frames beside each other unbent when asked to, and says by how much neighbours miss each other', async () => {
    const merged = await merge(pictures, {
      ...MERGE_DEFAULTS,
      panorama: { ...MERGE_DEFAULTS.panorama, projection: 'repositioned' },
    });
    if (merged.kind !== 'panorama') throw new Error('another kind');
    expect(merged.merged.frames.every((f) => f.geometry.model === 'homography')).toBe(true);
    const report = reportSchema.parse(makeReport(merged, 'merge.tif'));
    report.frames.forEach(({ alignment: { matrix } }) => {
      expect(Math.hypot(matrix[0]!, matrix[3]!)).toBeCloseTo(1, 2);
      expect(Math.abs(matrix[6]!) + Math.abs(matrix[7]!)).toBeLessThan(1e-9);
    });
    const figures = Object.fromEntries(merged.merged.projections.map((p) => [p.projection, p]));
    expect(figures['repositioned']!.misfitPx).toBeGreaterThan(1);
    expect(figures['cylindrical']!.misfitPx).toBe(0);
    expect(figures['repositioned']!.stretch).toBe(1);
  });

  it('closes part of a parallax by local shifts, within the bound', async () => {
    const near = await shoot('cove', 3, { pupilOffsetMm: 25 });
    const frames = await Promise.all(near.files.map((f) => store(f.path)));
    const leftWith = async (bendPx: number) => {
      const alignment = { ...MERGE_DEFAULTS.alignment, bendPx };
      const merged = await merge(frames, { ...MERGE_DEFAULTS, alignment });
      if (merged.kind !== 'panorama') throw new Error('another kind');
      return { bend: fieldBend(merged.set.locals), disagreement: merged.merged.disagreement };
    };
    const [plain, refined] = [await leftWith(0), await leftWith(8)];
    expect(plain.bend).toBeNull();
    expect(refined.bend!).toBeGreaterThan(0.2);
    expect(refined.bend!).toBeLessThanOrEqual(8);
    expect(refined.disagreement).toBeLessThanOrEqual(plain.disagreement * 1.02);
  });

  it('finds its way over a smooth red plate by its cables: all frames, each within 2 px of its true place beside the next', async () => {
    const folder = join(root, 'plate');
    mkdirSync(folder);
    const plate = await Promise.all((await photographPlate(folder)).map((path) => store(path)));
    const merged = await merge(plate);
    expect(merged.failed).toEqual([]);
    expect(merged.frames).toHaveLength(PLATE_VIEWS.length);
    if (merged.kind !== 'panorama') throw new Error(merged.kind);
    const { rotations, focalPx } = merged.set.rig;
    // Where the middle of what a frame shares with the next lies in that one, by truth and as found.
    const along = (m: readonly (readonly number[])[], f: number, x: number): number[] => {
      const [a, b, c] = m.map((row) => row[0]! * (x / f) + row[2]!) as [number, number, number];
      return [(f * a) / c, (f * b) / c];
    };
    const between = (from: number[][], to: number[][]): number[][] =>
      to.map((row) => from.map((other) => row.reduce((sum, v, n) => sum + v * other[n]!, 0)));
    const rows = (m: readonly number[]): number[][] => [0, 3, 6].map((i) => [...m.slice(i, i + 3)]);
    for (let k = 0; k + 1 < PLATE_VIEWS.length; k++) {
      const truth = along(
        between(plateRotation(PLATE_VIEWS[k]!), plateRotation(PLATE_VIEWS[k + 1]!)),
        PLATE_FOCAL_PX,
        125,
      );
      const found = along(between(rows(rotations[k]!), rows(rotations[k + 1]!)), focalPx[k]!, 125);
      expect(Math.hypot(found[0]! - truth[0]!, found[1]! - truth[1]!)).toBeLessThan(2);
    }
  });

  it('refuses frames that have nothing in common, and a lone frame, by name', async () => {
    const strangers = [await store(await noiseFile('one.jpg')), await store(await noiseFile('two.jpg'))];
    await expect(merge(strangers)).rejects.toThrow('one.jpg, two.jpg: no two of these frames show enough of the same');
    await expect(merge(pictures.slice(0, 1))).rejects.toThrow('a panorama needs at least 2 frames, this one has 1');
  });
});

describe('a bracket', () => {
  let set: Photographed;
  let pictures: SetPicture[];
  beforeAll(async () => {
    set = await shoot('lamp-room', 3);
    pictures = await Promise.all(set.files.map((f) => store(f.path)));
  });
  const merge = (frames: readonly SetPicture[], bracket = MERGE_DEFAULTS.bracket, out = freshTiles()) =>
    mergeSet('bracket', frames, { ...MERGE_DEFAULTS, bracket }, out, steps);

  it('has its exposures within 0.15 EV and its frames within 0.3 px of the truth', async () => {
    const merged = await merge(pictures);
    if (merged.kind !== 'bracket') throw new Error('another kind');
    const ev = merged.set.frames.map((f) => f.ev);
    const truth = set.plan.shots.map((s) => s.intendedEv - set.plan.shots[1]!.intendedEv);
    ev.forEach((v, k) => expect(Math.abs(v - truth[k]!)).toBeLessThan(0.15));
    const report = reportSchema.parse(makeReport(merged, 'merge.tif'));
    const errors = pairErrors({ plan: set.plan, names: pictures.map((p) => p.name), kept: [0, 1, 2] }, report);
    expect(Math.max(...errors)).toBeLessThan(0.3);
    expect(merged.profileOf).toBe(1);
  });

  it.each(['fusion', 'light'] as const)('merged by %s it shows more of the range than any frame', async (method) => {
    const out = freshTiles();
    const merged = await merge(pictures, { ...MERGE_DEFAULTS.bracket, method }, out);
    const tiff = await flatten(pool, out, join(root, `${method}.tif`));
    const lostIn = async (path: string): Promise<number> => {
      const { data } = await sharp(path)
        .toColourspace('srgb')
        .raw({ depth: 'uchar' })
        .toBuffer({ resolveWithObject: true });
      return data.filter((v) => v < 8 || v > 250).length / data.length;
    };
    const frames = await Promise.all(set.files.map((f) => lostIn(f.path)));
    expect(await lostIn(tiff)).toBeLessThan(Math.min(...frames));
    expect(merged.width).toBe(pictures[0]!.width);
  });

  it('blends by straight gradients, and names how many lines are wanted', async () => {
    const line = { x: 0.5, y: 0.5, angleDeg: 90, width: 0.2 };
    const by = (gradients: readonly (typeof line)[]) => ({
      ...MERGE_DEFAULTS.bracket,
      method: 'gradient' as const,
      gradients,
    });
    const merged = await merge(pictures, by([line, line]));
    expect(merged.height).toBe(pictures[0]!.height);
    await expect(merge(pictures, by([line]))).rejects.toThrow('gradients: 1 lines are given. Accepted: 2 for 3 frames');
  });

  it('takes a painted part from the frame it is painted from, all else from the reference', async () => {
    const window = {
      kind: 'polygon' as const,
      corners: [[0, 0] as const, [0.5, 0] as const, [0.5, 1] as const, [0, 1] as const],
    };
    const painted = { ...MERGE_DEFAULTS.bracket, method: 'painted' as const, parts: [{ frame: 0, shapes: [window] }] };
    const out = freshTiles();
    const merged = await merge(pictures, painted, out);
    expect(merged.shares![0]!).toBeCloseTo(0.5, 1);
    expect(merged.shares![1]!).toBeCloseTo(0.5, 1);
    expect(merged.shares![2]!).toBe(0);
    const meanOf = (tiles: string, x: number): number => {
      const file = openTileFile(tiles);
      const { data } = file.read(0, { x, y: 100, width: 100, height: 100 });
      const top = file.bits === 16 ? 65535 : 255;
      file.close();
      return Array.from(data).reduce((s, v) => s + v / top, 0) / data.length;
    };
    const right = pictures[0]!.width - 140;
    expect(Math.abs(meanOf(out, 40) - meanOf(pictures[0]!.tiles, 40))).toBeLessThan(0.01);
    expect(Math.abs(meanOf(out, right) - meanOf(pictures[1]!.tiles, right))).toBeLessThan(0.01);
    await expect(merge(pictures, { ...painted, parts: [{ frame: 3, shapes: [window] }] })).rejects.toThrow(
      'parts: a part is to come from frame 4, but there are 3. Accepted: frames 1 to 3',
    );
  });

  it('keeps to the model that is asked for, and lays the frames on each other no worse when it may choose', async () => {
    const errorWith = async (model: (typeof MERGE_DEFAULTS)['alignment']['model']): Promise<number> => {
      const alignment = { ...MERGE_DEFAULTS.alignment, model };
      const merged = await mergeSet('bracket', pictures, { ...MERGE_DEFAULTS, alignment }, freshTiles(), steps);
      if (merged.kind !== 'bracket') throw new Error('another kind');
      if (model !== 'auto') expect(merged.set.model).toBe(model);
      const report = reportSchema.parse(makeReport(merged, 'merge.tif'));
      return Math.max(...pairErrors({ plan: set.plan, names: pictures.map((p) => p.name), kept: [0, 1, 2] }, report));
    };
    const [chosen, plain] = [await errorWith('auto'), await errorWith('shift')];
    expect(chosen).toBeLessThan(0.3);
    expect(chosen).toBeLessThanOrEqual(plain + 0.05);
  });

  it('leaves a frame of another scene where it lies and says so; refuses another size by name', async () => {
    const path = join(root, 'stranger.jpg');
    const { width, height } = pictures[0]!;
    await sharp(await noiseFile('grain.jpg'))
      .resize(width, height, { fit: 'fill' })
      .jpeg()
      .toFile(path);
    const merged = await merge([pictures[0]!, pictures[1]!, await store(path)]);
    expect(merged.failed.map((f) => f.name)).toEqual(['stranger.jpg']);
    await expect(merge([pictures[0]!, await store(await noiseFile('small.jpg'))])).rejects.toThrow(
      'frames of one size',
    );
  });

  it('is told to be a bracket by looking at the files', async () => {
    const kind = await findKind(
      set.files.map((f) => ({ path: f.path, name: basename(f.path) })),
      root,
      steps(),
    );
    expect(kind).toBe('bracket');
  });
});

it('equal frames merge into themselves', async () => {
  const folder = join(root, 'equal');
  mkdirSync(folder);
  const path = join(folder, 'plain.png');
  await sharp({ create: { width: 200, height: 160, channels: 3, background: '#6a6a6a' } })
    .png()
    .toFile(path);
  const same = [await store(path), await store(path)];
  const merged = await mergeSet('bracket', same, MERGE_DEFAULTS, join(root, 'equal.tiles'), steps);
  expect(merged.width).toBe(200);
  expect([...merged.failed, ...merged.remarks].length).toBeGreaterThan(0);
});
