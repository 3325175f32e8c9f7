// What is shown and taken away: tiles, masks, label maps, files.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { similarityGeometry } from '@blendrak/core/frame';
import { makeRandom } from '../../../../../packages/core/src/testing/pictures';
import { temporaryFolder } from '../../testing/inProcess';
import { paintStroke } from '../../testing/paint';
import { W, H, texture, type Stored, storeIn } from '../../testing/storedTextures';
import type { InspectionScene } from '../protocol';
import { beginTiffTask, convertTiffTask, renderRowsTask } from './exportTiff';
import { labelPictureTask, maskTask, tileTask } from './renderTile';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const { three } = storeIn(root);
let base: Stored;
let dim: Stored;
beforeAll(async () => {
  ({ base, dim } = await three());
});

describe('what is shown and taken away', () => {
  const stroke = paintStroke(0, [[200, 140]], { sizePx: 80, hardness: 1 });
  const scene = (): InspectionScene => ({ merge: base, frames: [dim], operations: [stroke] });
  const decode = async (bytes: Uint8Array): Promise<{ at(x: number, y: number): number }> => {
    const { data, info } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true });
    return { at: (x, y) => data[(y * info.width + x) * info.channels]! };
  };
  const valueOf = (gain: number, x: number, y: number): number => 255 * gain * (0.15 + 0.6 * texture(x + 0.5, y + 0.5));

  it('a tile of the repaired picture shows the donor under the stroke, the merge beside it', async () => {
    const tile = {
      region: { x: 100, y: 60, width: 200, height: 160 },
      width: 200,
      height: 160,
      format: 'png' as const,
    };
    const shown = await decode(
      await tileTask({ source: { kind: 'repaired', scene: scene(), names: ['one'] }, tile, icc: null }),
    );
    expect(Math.abs(shown.at(100, 80) - valueOf(0.7, 200, 140))).toBeLessThan(8);
    expect(Math.abs(shown.at(10, 10) - valueOf(1, 110, 70))).toBeLessThan(8);
    const half = { ...tile, width: 100, height: 80 };
    const small = await decode(
      await tileTask({ source: { kind: 'repaired', scene: scene(), names: ['one'] }, tile: half, icc: null }),
    );
    expect(Math.abs(small.at(50, 40) - shown.at(100, 80))).toBeLessThan(25);
  });

  it('a tile that goes on from an earlier one shows what it would show rendered at once, whatever was taken back', async () => {
    const tile = { region: { x: 100, y: 60, width: 96, height: 96 }, width: 96, height: 96, format: 'png' as const };
    const all = Array.from({ length: 9 }, (_, k) =>
      paintStroke(k % 3 === 2 ? null : 0, [[110 + 8 * k, 80 + 6 * k]], { sizePx: 30, strength: 0.7 }),
    );
    const shown = (count: number, tag: string, of = all): Promise<Uint8Array> => {
      const operations = of.slice(0, count);
      const names = operations.map((o) => `${tag}${all.indexOf(o)}`);
      const source = { kind: 'repaired' as const, scene: { merge: base, frames: [dim], operations }, names };
      return tileTask({ source, tile, icc: null });
    };
    const whole = await sharp(await shown(9, 'at once '))
      .raw()
      .toBuffer();
    for (const count of [5, 6, 9, 4, 7, 9]) {
      const step = await sharp(await shown(count, 'on '))
        .raw()
        .toBuffer();
      if (count === 9) expect(Math.max(...step.map((v, i) => Math.abs(v - whole[i]!)))).toBeLessThanOrEqual(1);
    }
    // Another order is another picture, although the same operations have been laid before.
    const turned = await sharp(await shown(9, 'on ', all.toReversed()))
      .raw()
      .toBuffer();
    const fresh = await sharp(await shown(9, 'turned ', all.toReversed()))
      .raw()
      .toBuffer();
    expect(Math.max(...turned.map((v, i) => Math.abs(v - fresh[i]!)))).toBeLessThanOrEqual(1);
    expect(Math.max(...turned.map((v, i) => Math.abs(v - whole[i]!)))).toBeGreaterThan(5);
  });

  it('a frame is shown where it lies in the merge', async () => {
    const geometry = similarityGeometry({ re: 1, im: 0, tx: 40, ty: 0 });
    const tile = { region: { x: 60, y: 60, width: 64, height: 64 }, width: 64, height: 64, format: 'png' as const };
    const source = { kind: 'frame' as const, frame: { ...base, geometry } };
    const shown = await decode(await tileTask({ source, tile, icc: null }));
    expect(Math.abs(shown.at(20, 20) - valueOf(1, 40, 80))).toBeLessThan(8);
  });

  it('the mask of a frame is white where it was painted, and the size of the merge', async () => {
    const bytes = await maskTask({ operations: [stroke], frame: 0, width: W, height: H });
    expect(await sharp(bytes).metadata()).toMatchObject({ width: W, height: H });
    const mask = await decode(bytes);
    expect([mask.at(200, 140), mask.at(200, 105), mask.at(20, 20)]).toEqual([255, 255, 0]);
    const other = await decode(await maskTask({ operations: [stroke], frame: 1, width: W, height: H }));
    expect(other.at(200, 140)).toBe(0);
  });

  it('a label map is one more than the frame, and nothing where none explains', async () => {
    const random = makeRandom(3);
    const closest = Uint8Array.from({ length: 12 }, () => Math.floor(random() * 4));
    const shown = closest.map((v, i) => (i % 3 === 0 ? 255 : v));
    const path = join(root, 'map.labels');
    writeFileSync(path, Buffer.concat([closest, shown]));
    const { data } = await sharp(await labelPictureTask({ labels: path, width: 4, height: 3 }))
      .raw()
      .toBuffer({ resolveWithObject: true });
    closest.forEach((v, i) => {
      expect(data[3 * i]).toBe(i % 3 === 0 ? 0 : v + 1);
      expect(data[3 * i + 1]).toBe(v + 1);
    });
  });

  it('a file written band by band holds the repaired picture, 16 bits deep, and becomes a PNG', async () => {
    const out = join(root, 'flat.tif');
    const layout = beginTiffTask({ width: W, height: H, icc: null, out });
    for (let y = 0; y < H; y += 96) renderRowsTask({ scene: scene(), out, layout, y, rows: Math.min(96, H - y) });
    expect(await sharp(out).metadata()).toMatchObject({ width: W, height: H, depth: 'ushort' });
    const png = join(root, 'flat.png');
    await convertTiffTask({ tiff: out, out: png });
    const flat = await decode(await sharp(readFileSync(png)).toColourspace('srgb').png().toBuffer());
    expect(Math.abs(flat.at(200, 140) - valueOf(0.7, 200, 140))).toBeLessThan(8);
    expect(Math.abs(flat.at(50, 270) - valueOf(1, 50, 270))).toBeLessThan(8);
    const { data } = await sharp(png).raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
    expect(data.length).toBe(W * H * 3 * 2);
  });
});
