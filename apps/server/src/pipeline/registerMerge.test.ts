// Merges of panoramas and brackets made elsewhere: own merges in known geometry, cut, resized and compressed, found again.
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import type { SourceMethod } from '@blendrak/contract';
import { frameToMerge, inAnotherMerge, SAME_PLACE } from '@blendrak/core/frame';
import { IDENTITY_TONE, quantile } from '@blendrak/core/image';
import type { Subject } from '@blendrak/scene';
import { flatten } from '../testing/flatten';
import { shootingRange } from '../testing/shotSets';
import {
  alignBracket,
  alignPanorama,
  MERGE_DEFAULTS,
  mergeAligned,
  mergeInPlace,
  processSet,
  registerPanorama,
  registerPlane,
  type Aligned,
  type PlacedFrame,
  type SetPicture,
} from './index';

const { root, pool, steps, shoot, store, freshTiles } = shootingRange();

/** Distances between two placements of the same frames in one merge, px of the merge, over what both show there. */
function apartPx(a: readonly PlacedFrame[], b: readonly PlacedFrame[], width: number, height: number): number[] {
  return b.flatMap((frame) => {
    const known = a.find((f) => f.name === frame.name)!;
    return Array.from({ length: 81 }, (_, n): number | null => {
      const x = (((n % 9) + 0.5) / 9) * frame.width;
      const y = ((Math.floor(n / 9) + 0.5) / 9) * frame.height;
      const [p, q] = [frameToMerge(known.geometry, x, y), frameToMerge(frame.geometry, x, y)];
      const inside = p && p[0] > 0 && p[1] > 0 && p[0] < width && p[1] < height;
      return inside ? (q ? Math.hypot(p[0] - q[0], p[1] - q[1]) : Infinity) : null;
    }).filter((d) => d !== null);
  });
}

/** A tile file's picture as a file of another size, cut on all sides, and that file stored. */
async function madeElsewhere(tiles: string, cut: number, scale: number): Promise<SetPicture> {
  const tiff = await flatten(pool, tiles, `${tiles}.tif`);
  const { width, height } = await sharp(tiff).metadata();
  const out = `${tiles}.jpg`;
  await sharp(tiff)
    .extract({ left: cut, top: cut, width: width - 2 * cut, height: height - 2 * cut })
    .resize(Math.round((width - 2 * cut) * scale))
    .toColourspace('srgb')
    .jpeg({ quality: 88 })
    .toFile(out);
  return store(out);
}

/** Geometries of a merge in the same one cut and resized. */
function cutTo(frames: readonly PlacedFrame[], cut: number, scale: number): PlacedFrame[] {
  return frames.map((f) => ({
    ...f,
    geometry: inAnotherMerge(f.geometry, { re: 1 / scale, im: 0, tx: cut, ty: cut }),
  }));
}

describe('merges made elsewhere', () => {
  let panorama: { pictures: SetPicture[]; aligned: Extract<Aligned, { kind: 'panorama' }> };
  let bracket: { pictures: SetPicture[]; aligned: Extract<Aligned, { kind: 'bracket' }> };
  beforeAll(async () => {
    const stored = async (subject: Subject) => Promise.all((await shoot(subject, 3)).files.map((f) => store(f.path)));
    const [wide, room] = [await stored('cove'), await stored('lamp-room')];
    const alignment = MERGE_DEFAULTS.alignment;
    panorama = {
      pictures: wide,
      aligned: { kind: 'panorama', set: await alignPanorama(wide, alignment, steps()) },
    };
    bracket = { pictures: room, aligned: { kind: 'bracket', set: await alignBracket(room, alignment, steps()) } };
  });
  const own = (aligned: Aligned, options: Partial<typeof MERGE_DEFAULTS>, tiles: string) =>
    mergeAligned(aligned, { ...MERGE_DEFAULTS, ...options }, tiles, steps());

  /** Merges a set once more where its frames lie in a merge, and compares the two: encoded luma, with and without its tone. */
  async function inPlace(
    { kind, set }: typeof panorama.aligned | typeof bracket.aligned,
    merge: SetPicture,
    frames: readonly PlacedFrame[],
    method: SourceMethod,
  ): Promise<{ correlation: number; apart: number; plainlyApart: number }> {
    const tiles = freshTiles();
    const [reference, evs] = kind === 'bracket' ? [set.reference, set.frames.map((f) => f.ev)] : [0, []];
    const placed = await mergeInPlace({ kind, merge, frames, reference, evs, method }, tiles, steps());
    const { width, height } = merge;
    const plain = { tiles, geometry: SAME_PLACE, tone: IDENTITY_TONE, noise: placed.noise };
    const order = { frames: [{ ...plain, ...merge }, { ...plain, ...placed }, plain], width, height, longSidePx: 600 };
    const [theirs, ours, untoned] = (await pool.run('smallLuma', order)).map((s) => s.luma.data);
    const pairs = Array.from(theirs!.keys()).filter((i) => theirs![i]! >= 0 && ours![i]! >= 0);
    expect(pairs.length).toBeGreaterThan(0.95 * theirs!.length);
    const mean = (value: (i: number) => number): number => pairs.reduce((s, i) => s + value(i), 0) / pairs.length;
    const [a, b] = [mean((i) => theirs![i]!), mean((i) => ours![i]!)];
    const [da, db] = [(i: number) => theirs![i]! - a, (i: number) => ours![i]! - b];
    return {
      correlation: mean((i) => da(i) * db(i)) / Math.sqrt(mean((i) => da(i) ** 2) * mean((i) => db(i) ** 2)),
      apart: mean((i) => Math.abs(theirs![i]! - ours![i]!)),
      plainlyApart: mean((i) => Math.abs(theirs![i]! - untoned![i]!)),
    };
  }

  it.each(['flat', 'cylindrical'] as const)(
    'a %s panorama, cropped and at 0.7 of the size, is found on its canvas: half of the places within 0.5 px, 95 %% within 1.5 px',
    async (projection) => {
      const tiles = freshTiles();
      const merged = await own(panorama.aligned, { panorama: { ...MERGE_DEFAULTS.panorama, projection } }, tiles);
      const elsewhere = await madeElsewhere(tiles, 20, 0.7);
      const { frames, remarks } = await registerPanorama(elsewhere, panorama.aligned.set, steps());
      const off = apartPx(cutTo(merged.frames, 20, 0.7), frames, elsewhere.width, elsewhere.height);
      expect([remarks, frames.length, off.length > 100]).toEqual([[], 3, true]);
      expect([quantile(off, 0.5) < 0.5, quantile(off, 0.95) < 1.5]).toEqual([true, true]);
      // Merged once more on that canvas it is the same picture.
      const again = await inPlace(panorama.aligned, elsewhere, frames, 'seams');
      expect(again.correlation).toBeGreaterThan(0.98);
      expect(again.apart).toBeLessThan(0.012);
    },
  );

  it('a bracket merged as light, cropped and at 0.8 of the size, has its exposures in place; tones need not agree', async () => {
    const tiles = freshTiles();
    const options = { bracket: { ...MERGE_DEFAULTS.bracket, method: 'light' as const } };
    const merged = await own(bracket.aligned, options, tiles);
    const elsewhere = await madeElsewhere(tiles, 16, 0.8);
    const { frames } = await registerPlane(elsewhere, bracket.aligned, steps());
    const off = apartPx(cutTo(merged.frames, 16, 0.8), frames, elsewhere.width, elsewhere.height);
    expect([quantile(off, 0.5) < 0.5, quantile(off, 0.95) < 1.5]).toEqual([true, true]);
    // Merged in that place in the same way it is the same picture; by exposure it is another one, brought to its tone as a whole.
    const light = await inPlace(bracket.aligned, elsewhere, frames, 'light');
    expect([light.correlation > 0.98, light.apart < 0.012]).toEqual([true, true]);
    const fused = await inPlace(bracket.aligned, elsewhere, frames, 'fusion');
    expect(fused.correlation).toBeLessThan(light.correlation);
    expect(fused.apart).toBeLessThan(0.6 * fused.plainlyApart);
  });

  it('a bracket straightened by 10 % of its width, which moves corners by far more than blocks find, has its exposures in place', async () => {
    const tiles = freshTiles();
    const merged = await own(bracket.aligned, {}, tiles);
    const whole = await sharp(await flatten(pool, tiles, `${tiles}.tif`))
      .toColourspace('srgb')
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const { width, height } = whole.info;
    // Finished px → px of the merge as it was: narrower towards the top.
    const back = (x: number, y: number): [number, number] => {
      const w = 1.1 - (0.1 * y) / height;
      return [width / 2 + (x - width / 2) / w, y / w];
    };
    const data = Buffer.alloc(width * height * 3);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [u, v] = back(x + 0.5, y + 0.5);
        const [left, top] = [
          Math.max(0, Math.min(width - 2, Math.floor(u - 0.5))),
          Math.max(0, Math.min(height - 2, Math.floor(v - 0.5))),
        ];
        const [s, t] = [Math.min(1, Math.max(0, u - 0.5 - left)), Math.min(1, Math.max(0, v - 0.5 - top))];
        for (let c = 0; c < 3; c++) {
          const at = (dx: number, dy: number): number => whole.data[3 * ((top + dy) * width + left + dx) + c]!;
          data[3 * (y * width + x) + c] = Math.round(
            (at(0, 0) * (1 - s) + at(1, 0) * s) * (1 - t) + (at(0, 1) * (1 - s) + at(1, 1) * s) * t,
          );
        }
      }
    const path = join(root, 'straightened.png');
    await sharp(data, { raw: { width, height, channels: 3 } })
      .png()
      .toFile(path);
    const elsewhere = await store(path);
    const { frames } = await registerPlane(elsewhere, bracket.aligned, steps());
    const off = frames.flatMap((f, k) =>
      Array.from({ length: 81 }, (_, n) => {
        const [x, y] = [(((n % 9) + 0.5) / 9) * f.width, ((Math.floor(n / 9) + 0.5) / 9) * f.height];
        const [was, is] = [frameToMerge(merged.frames[k]!.geometry, x, y)!, frameToMerge(f.geometry, x, y)!];
        const [u, v] = back(...is);
        return Math.hypot(u - was[0], v - was[1]);
      }),
    );
    expect([quantile(off, 0.5) < 0.5, quantile(off, 0.95) < 1.5]).toEqual([true, true]);
  });

  it('refuses by name a panorama that is mirrored, one on its side, and one of something else', async () => {
    const tiles = freshTiles();
    await own(panorama.aligned, {}, tiles);
    const whole = await madeElsewhere(tiles, 8, 1);
    const file = join(root, whole.name);
    const refused = async (name: string, change: (picture: Sharp) => Sharp): Promise<string> => {
      const path = join(root, name);
      await change(sharp(file)).toFile(path);
      return registerPanorama(await store(path), panorama.aligned.set, steps()).then(
        () => 'taken',
        (error: unknown) => (error as Error).message,
      );
    };
    expect(whole.width).toBeGreaterThan(400);
    expect(await refused('mirrored.jpg', (p) => p.flop())).toContain('mirrored.jpg: it is mirrored against the frames');
    expect(await refused('side.jpg', (p) => p.rotate(90))).toMatch(/^side\.jpg: it is turned by (89|90|91)°/);
    const room = bracket.pictures[1]!;
    await expect(registerPanorama(room, panorama.aligned.set, steps())).rejects.toThrow(
      /: this merge does not belong to the frames/,
    );
  });

  it('inspects a bracket and a panorama made elsewhere through one call, and explains most of their cells', async () => {
    for (const { pictures, aligned } of [panorama, bracket]) {
      const tiles = freshTiles();
      await own(aligned, {}, tiles);
      const elsewhere = await madeElsewhere(tiles, 8, 1);
      const { kind } = aligned;
      const order = { kind, pictures, elsewhere, options: MERGE_DEFAULTS, known: aligned, tiles: '', inspect: true };
      const { shown, inspection, shares, own: none } = await processSet(order, steps);
      expect(none).toBeNull();
      expect(inspection!.facts.kind).toBe(kind);
      const unexplained = shown!.shown.filter((l) => l === 255).length / shown!.shown.length;
      expect(unexplained).toBeLessThan(0.35);
      expect(shares!.reduce((s, v) => s + v, 0)).toBeCloseTo(1, 2);
    }
  });
});
