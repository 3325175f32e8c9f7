// Pictures as they are stored: their px, their noise, and what is none.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { noiseAt } from '@blendrak/core/image';
import { addNoise, samplePlane } from '../../../../../packages/core/src/testing/pictures';
import { openTileFile } from '../../codecs';
import { temporaryFolder } from '../../testing/inProcess';
import { W, H, type Stored, storeIn } from '../../testing/storedTextures';
import { noiseTask, storePicture } from './storePicture';

const { path: root, clean } = temporaryFolder();
afterAll(clean);

const { store, three } = storeIn(root);
let base: Stored;
beforeAll(async () => {
  ({ base } = await three());
});

describe('a picture that is stored', () => {
  it('holds each pixel of its file, and a level of half the size', async () => {
    const { data } = await sharp(join(root, 'base.png')).raw().toBuffer({ resolveWithObject: true });
    const file = openTileFile(base.tiles);
    try {
      expect([file.header.width, file.header.height, file.bits]).toEqual([W, H, 8]);
      expect(file.header.levels[1]).toMatchObject({ width: W / 2, height: H / 2 });
      const all = file.read(0, { x: 0, y: 0, width: W, height: H });
      expect(Buffer.from(all.data.buffer, all.data.byteOffset, all.data.byteLength).equals(data)).toBe(true);
    } finally {
      file.close();
    }
  });

  it('knows its noise, once read and once asked again, within a fifth', async () => {
    const smooth = samplePlane(W, H, (x) => 0.3 + (0.3 * x) / W);
    const noisy = await store('noisy', addNoise(smooth, 0.012, 5));
    for (const curve of [noisy.noise, noiseTask({ tiles: noisy.tiles })]) {
      const ratio = Math.sqrt(noiseAt(curve, 0.45)) / 0.012;
      expect(ratio).toBeGreaterThan(0.8);
      expect(ratio).toBeLessThan(1.2);
    }
  });

  it('that is no picture is refused by name', async () => {
    const path = join(root, 'none.png');
    writeFileSync(path, 'not a picture at all');
    await expect(storePicture({ path, name: 'none.png', out: join(root, 'none.tiles') })).rejects.toThrow('none.png');
  });
});
