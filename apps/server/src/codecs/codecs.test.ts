// Files in and out: bit depth and profile survive, bad files are named.
import { promises, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { heldFiles } from '../testing/heldFiles';
import { temporaryFolder } from '../testing/inProcess';
import {
  convertTiff,
  createTileFile,
  decodeSmall,
  decodePicture,
  decodeToFile,
  InputError,
  inspectPicture,
  openTileFile,
  readExif,
  TILE_PX,
  writeTiff,
} from './index';

const { path: folder, clean } = temporaryFolder();
afterAll(clean);

const W = 200;
const H = 130;
const pixels16 = Uint16Array.from({ length: W * H * 3 }, (_, i) => (i * 7919) & 65535);

/** Values that are not what was written. */
function differing(values: Uint8Array | Uint16Array): number {
  return values.length === pixels16.length ? values.filter((v, i) => v !== pixels16[i]).length : Infinity;
}

/** A file with the profile libvips ships as Display P3. */
async function profiledTiff(): Promise<{ path: string; icc: Buffer }> {
  const p3 = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#888' } })
    .withIccProfile('p3')
    .tiff()
    .toBuffer();
  const icc = (await sharp(p3).metadata()).icc!;
  const path = join(folder, 'profiled.tif');
  writeTiff(path, W, H, 16, icc, (y, rows) => ({
    width: W,
    height: rows,
    data: pixels16.subarray(y * W * 3, (y + rows) * W * 3),
  }));
  return { path, icc };
}

describe('TIFF, 16 bit, with a profile', () => {
  it('comes back pixel by pixel with the same profile', async () => {
    const { path, icc } = await profiledTiff();
    const info = await inspectPicture(path);
    expect(info).toMatchObject({ width: W, height: H, bits: 16 });
    expect(info.icc!.equals(icc)).toBe(true);
    expect(info.profileName).toBe('sP3C');
    expect(differing(await decodePicture(path, info))).toBe(0);
  });

  it('as BigTIFF it is read by others with the same values, profile and resolution', async () => {
    const { icc } = await profiledTiff();
    const path = join(folder, 'wide.tif');
    const rows = (y: number, n: number) => ({
      width: W,
      height: n,
      data: pixels16.subarray(y * W * 3, (y + n) * W * 3),
    });
    writeTiff(path, W, H, 16, icc, rows, null, true);
    expect(readFileSync(path).readUInt16LE(2)).toBe(43);
    const info = await inspectPicture(path);
    expect(info).toMatchObject({ width: W, height: H, bits: 16 });
    expect(info.icc!.equals(icc)).toBe(true);
    expect((await sharp(path).metadata()).density).toBe(300);
    expect(differing(await decodePicture(path, info))).toBe(0);
  });

  it.each([
    ['BigTIFF in tiles', { bigtiff: true, tile: true, tileWidth: 64, tileHeight: 64, compression: 'deflate' }],
    ['strips, LZW', { compression: 'lzw', predictor: 'horizontal' }],
  ] as const)('a file written by others is read with the same values: %s', async (_name, options) => {
    const { path } = await profiledTiff();
    const other = join(folder, 'other.tif');
    await sharp(path).keepIccProfile().toColourspace('rgb16').tiff(options).toFile(other);
    const info = await inspectPicture(other);
    expect(info).toMatchObject({ width: W, height: H, bits: 16 });
    expect(differing(await decodePicture(other, info))).toBe(0);
  });

  it('comes back pixel by pixel through a file of rows, as large pictures do', async () => {
    const { path } = await profiledTiff();
    const scratch = join(folder, 'rows.v');
    const start = await decodeToFile(path, await inspectPicture(path), scratch);
    const bytes = readFileSync(scratch).subarray(start, start + pixels16.byteLength);
    expect(differing(new Uint16Array(Uint8Array.from(bytes).buffer))).toBe(0);
  });

  it('keeps values and profile when libvips turns it into PNG', async () => {
    const { path, icc } = await profiledTiff();
    const png = join(folder, 'profiled.png');
    await convertTiff(path, png);
    const info = await inspectPicture(png);
    expect(info.icc!.equals(icc)).toBe(true);
    expect(differing(await decodePicture(png, info))).toBe(0);
  });

  it('is read by others as what it is', async () => {
    const { path } = await profiledTiff();
    expect(await sharp(path).metadata()).toMatchObject({
      format: 'tiff',
      depth: 'ushort',
      channels: 3,
      width: W,
      height: H,
    });
  });
});

describe('tile files', () => {
  it.each([8, 16] as const)('give back any region at %d bits, across tiles', (bits) => {
    const [width, height] = [TILE_PX + 188, TILE_PX + 90];
    const file = createTileFile(join(folder, `t${bits}.tiles`), width, height, bits);
    const data = (bits === 8 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3)).map(
      (_, i) => (i * 31) & 255,
    );
    for (let y = 0; y < height; y += TILE_PX) {
      const rows = Math.min(TILE_PX, height - y);
      file.write(0, 0, y, { width, height: rows, data: data.subarray(y * width * 3, (y + rows) * width * 3) });
    }
    file.close();
    const again = openTileFile(join(folder, `t${bits}.tiles`));
    const region = { x: 470, y: 500, width: 80, height: 30 };
    const block = again.read(0, region);
    for (const [x, y] of [
      [0, 0],
      [41, 11],
      [42, 12],
      [79, 29],
    ] as const) {
      expect(block.data[(y * 80 + x) * 3 + 1]).toBe(data[((500 + y) * width + 470 + x) * 3 + 1]);
    }
    expect(again.levels).toBe(2);
    again.close();
  });
});

it('a tile file takes parts from tile to tile or to its edge, and refuses any other', () => {
  const file = createTileFile(join(folder, 'parts.tiles'), 1300, 600, 16);
  const part = (width: number, height: number) => ({
    width,
    height,
    data: new Uint16Array(width * height * 3).fill(9),
  });
  file.write(0, 512, 0, part(788, 600));
  expect(file.read(0, { x: 1299, y: 599, width: 1, height: 1 }).data[0]).toBe(9);
  for (const [x, y, width, height] of [
    [768, 0, 532, 600],
    [512, 0, 500, 600],
    [0, 512, 512, 100],
    [1024, 0, 512, 600],
  ] as const)
    expect(() => file.write(0, x, y, part(width, height))).toThrow('tileFile.write: expected parts of 1300 × 600 px');
  file.close();
});

describe('bad files', () => {
  const reject = async (name: string, content: Buffer): Promise<string> => {
    const path = join(folder, name);
    writeFileSync(path, content);
    try {
      await decodePicture(path, await inspectPicture(path));
    } catch (error) {
      expect(error).toBeInstanceOf(InputError);
      return (error as Error).message;
    }
    throw new Error(`${name} was taken`);
  };
  const jpeg = (): Promise<Buffer> =>
    sharp({ create: { width: 300, height: 200, channels: 3, background: '#a50' } })
      .jpeg()
      .toBuffer();

  it('a text file named .jpg', async () => {
    expect(await reject('notes.jpg', Buffer.from('not a picture'))).toMatch(
      /^notes\.jpg: this is not a picture that can be read\. Accepted: JPEG/,
    );
  });
  it('a JPEG that ends early', async () => {
    const whole = await jpeg();
    expect(await reject('cut.jpg', whole.subarray(0, whole.length * 0.6))).toMatch(/^cut\.jpg: the file ends early/);
  });
  it('a picture of 1 × 1 px', async () => {
    const dot = await sharp({ create: { width: 1, height: 1, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    expect(await reject('dot.png', dot)).toContain('the picture has 1 × 1 px. Accepted: JPEG, PNG, TIFF, WebP or AVIF');
  });
  it('a CMYK file', async () => {
    const cmyk = await sharp(await jpeg())
      .toColourspace('cmyk')
      .jpeg()
      .toBuffer();
    expect(await reject('print.jpg', cmyk)).toContain('CMYK colour is not taken');
  });
  it('another format', async () => {
    const gif = await sharp(await jpeg())
      .gif()
      .toBuffer();
    expect(await reject('moving.gif', gif)).toContain('gif files are not taken');
  });
  it('a file over the limit', async () => {
    process.env['BLENDRAK_MAX_FILE_MB'] = '0.0001';
    try {
      expect(await reject('large.jpg', await jpeg())).toContain('too large');
    } finally {
      delete process.env['BLENDRAK_MAX_FILE_MB'];
    }
  });
  it('a file that is not there', async () => {
    await expect(inspectPicture(join(folder, 'absent.tif'))).rejects.toThrow('absent.tif: the file cannot be read');
  });
});

it('Exif settings are read, and their absence is not an error', async () => {
  const path = join(folder, 'exif.jpg');
  const exif = {
    IFD2: {
      ExposureTime: '1/4',
      FNumber: '8/1',
      FocalLength: '60/1',
      ISOSpeedRatings: '100',
      SubjectDistance: '3200/10000',
    },
  };
  writeFileSync(
    path,
    await sharp({ create: { width: 80, height: 80, channels: 3, background: '#123' } })
      .withExif(exif)
      .jpeg()
      .toBuffer(),
  );
  expect(await readExif(path)).toMatchObject({
    exposureS: 0.25,
    fNumber: 8,
    focalLengthMm: 60,
    iso: 100,
    focusDistanceM: 0.32,
  });
  const bare = join(folder, 'bare.png');
  writeFileSync(bare, await sharp(readFileSync(path)).png().toBuffer());
  expect(await readExif(bare)).toBeNull();
});

it('settings are read, and files told, without a file being opened for later: a thread may be ended meanwhile', async () => {
  const path = join(folder, 'settings.jpg');
  await sharp({ create: { width: 80, height: 80, channels: 3, background: '#123' } })
    .withExif({ IFD0: { Make: 'Maker', Model: 'One' } })
    .jpeg()
    .toFile(path);
  const opened = jest.spyOn(promises, 'open').mockRejectedValue(new Error('opened for later'));
  const read = jest.spyOn(promises, 'readFile').mockRejectedValue(new Error('opened for later'));
  try {
    expect(await readExif(path)).toMatchObject({ camera: 'Maker One' });
    expect(await decodeSmall(path, 64)).toMatchObject({ width: 64, height: 64 });
  } finally {
    opened.mockRestore();
    read.mockRestore();
  }
  expect(heldFiles()).not.toContain(path);
});

describe('WebP, AVIF and camera raw files', () => {
  const grey = sharp({ create: { width: 96, height: 80, channels: 3, background: '#6a6a6a' } });

  it.each(['webp', 'avif'] as const)('%s is read in its size, its tone within a code or two', async (format) => {
    const path = join(folder, `plate.${format}`);
    writeFileSync(path, await grey.clone().toFormat(format, { quality: 95 }).toBuffer());
    const info = await inspectPicture(path);
    expect(info).toMatchObject({ width: 96, height: 80, bits: 8 });
    const data = await decodePicture(path, info);
    expect(data).toHaveLength(96 * 80 * 3);
    const mean = Array.from(data).reduce((s, v) => s + v, 0) / data.length;
    expect(Math.abs(mean - 0x6a)).toBeLessThan(2.5);
  });

  it('a camera raw file is named as such, with the advice to develop it first', async () => {
    const path = join(folder, 'shot.dng');
    writeFileSync(path, Buffer.from('II*\0'));
    await expect(inspectPicture(path)).rejects.toThrow(
      'shot.dng: this is a camera raw file. Accepted: pictures: develop all frames of a set with equal settings',
    );
  });
});

describe('damaged files', () => {
  it('whatever bytes are changed, cut or added: pixels of the size told, or one error that names the file', async () => {
    const whole = sharp({ create: { width: 100, height: 80, channels: 3, background: '#7a5030' } });
    const sources = await Promise.all(
      (['jpeg', 'png', 'tiff', 'webp'] as const).map(
        async (format) => [format, await whole.clone().toFormat(format).toBuffer()] as const,
      ),
    );
    const change = fc.record({
      source: fc.constantFrom(...sources),
      edits: fc.array(
        fc.tuple(fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }), fc.integer({ min: 0, max: 255 })),
        { maxLength: 12 },
      ),
      keep: fc.oneof(fc.constant(1), fc.double({ min: 0, max: 1, noNaN: true })),
    });
    let n = 0;
    await fc.assert(
      fc.asyncProperty(change, async ({ source: [format, bytes], edits, keep }) => {
        const data = Buffer.from(bytes.subarray(0, Math.max(1, Math.round(bytes.length * keep))));
        for (const [at, value] of edits) data[Math.floor(at * data.length)] = value;
        const name = `damaged ${(n += 1)}.${format}`;
        const path = join(folder, name);
        writeFileSync(path, data);
        try {
          const info = await inspectPicture(path, name);
          const pixels = await decodePicture(path, info, name);
          expect(pixels).toHaveLength(info.width * info.height * 3);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
          expect((error as InputError).message).toContain(name);
        }
      }),
      { numRuns: 150, seed: 20 },
    );
  });
});
