// Files that hold several pictures: pages and layers come out as files of their own, broken ones are named.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { temporaryFolder } from '../testing/inProcess';
import { decodePicture, expandFile, inspectPicture } from './index';

const { path: folder, clean } = temporaryFolder();
afterAll(clean);

describe('files that hold several pictures', () => {
  const plain = (background: string) => sharp({ create: { width: 90, height: 70, channels: 3, background } });
  const meanOf = async (path: string): Promise<number> => (await sharp(path).stats()).channels[0]!.mean;

  it('a TIFF with pages becomes one file for each', async () => {
    const path = join(folder, 'stack.tif');
    const pages = await Promise.all(['#202020', '#808080', '#e0e0e0'].map((c) => plain(c).png().toBuffer()));
    const tall = await sharp(pages, { join: { across: 1 } })
      .raw()
      .toBuffer();
    await sharp(tall, { raw: { width: 90, height: 210, channels: 3, pageHeight: 70 } })
      .tiff()
      .toFile(path);
    const parts = await expandFile(path, 'stack.tif', folder);
    expect(parts!.map((p) => p.name)).toEqual(['stack page 1.tif', 'stack page 2.tif', 'stack page 3.tif']);
    expect(await Promise.all(parts!.map((p) => meanOf(p.path)))).toEqual([0x20, 0x80, 0xe0]);
  });

  it('a TIFF with one page stays as it is', async () => {
    const path = join(folder, 'single.tif');
    await plain('#808080').tiff().toFile(path);
    expect(await expandFile(path, 'single.tif', folder)).toBeNull();
  });

  it('an OpenRaster file gives its layers from the bottom up, in place, and its flat picture as the merge', async () => {
    const patch = await sharp({ create: { width: 10, height: 10, channels: 4, background: '#ffffff' } })
      .png()
      .toBuffer();
    const stack =
      '<?xml version="1.0"?><image w="90" h="70"><stack><layer src="data/top.png" x="20" y="30"/><stack><layer src="data/base.png"/></stack></stack></image>';
    const file = zipSync({
      mimetype: Buffer.from('image/openraster'),
      'stack.xml': Buffer.from(stack),
      'data/top.png': patch,
      'data/base.png': await plain('#404040').png().toBuffer(),
      'mergedimage.png': await plain('#606060').png().toBuffer(),
    });
    const path = join(folder, 'work.ora');
    writeFileSync(path, file);
    const parts = await expandFile(path, 'work.ora', folder);
    expect(parts!.map((p) => [p.name, p.role])).toEqual([
      ['work layer 1.png', 'frame'],
      ['work layer 2.png', 'frame'],
      ['work flat.png', 'merge'],
    ]);
    expect(await meanOf(parts![0]!.path)).toBe(0x40);
    const top = await sharp(parts![1]!.path).removeAlpha().raw().toBuffer();
    expect([top[3 * (30 * 90 + 20)], top[3 * (29 * 90 + 20)], top[3 * (40 * 90 + 20)]]).toEqual([255, 0, 0]);
  });

  it.each([
    ['no zip at all', Buffer.from('nothing'), 'this is no OpenRaster file'],
    ['no stack', Buffer.from(zipSync({ mimetype: Buffer.from('image/openraster') })), 'stack.xml is missing'],
    [
      'a stack without layers',
      Buffer.from(zipSync({ 'stack.xml': Buffer.from('<image w="9" h="9"/>') })),
      'stack.xml names no size or no layers',
    ],
    [
      'a layer that is not there',
      Buffer.from(
        zipSync({ 'stack.xml': Buffer.from('<image w="9" h="9"><stack><layer src="a.png"/></stack></image>') }),
      ),
      'the layer a.png is missing',
    ],
  ])('an OpenRaster file with %s is named', async (_, data, words) => {
    const path = join(folder, 'odd.ora');
    writeFileSync(path, data);
    await expect(expandFile(path, 'odd.ora', folder)).rejects.toThrow(`odd.ora: ${words}`);
  });

  it('floating point TIFF is linear light: it comes out encoded in 16 bits', async () => {
    const path = join(folder, 'float.tif');
    await plain('#6a6a6a').toColourspace('scrgb').tiff({ compression: 'none' }).toFile(path);
    const info = await inspectPicture(path);
    expect(info.bits).toBe(16);
    const data = await decodePicture(path, info);
    expect(Math.abs(data[0]! - 0x6a * 257)).toBeLessThan(40);
  });
});
