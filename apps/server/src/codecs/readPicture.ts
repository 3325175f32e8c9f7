// Picture files in: JPEG, PNG and TIFF through libvips, pixels kept in their own profile, bit depth kept.
import { fstatSync, readSync } from 'node:fs';
import { lstat, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { isFull } from '../shared/noRoom';
import { withDescriptor } from '../shared/withDescriptor';
import { isRawName, RAW_ADVICE } from './fileNames';
import { InputError } from './inputError';
import { readProfile } from './profile';
import { checkUnpacked } from './unpackLimits';

export const ACCEPTED_FILES = 'JPEG, PNG, TIFF, WebP or AVIF with 8 or 16 bits per channel, 64 px to 30,000 px a side';
const SMALLEST_PX = 64;
export const LARGEST_PX = 30000;
/** Largest file taken, settable for tests and small disks. */
export function fileLimitBytes(): number {
  return Number(process.env['BLENDRAK_MAX_FILE_MB'] ?? 6000) * 1e6;
}

export interface PictureInfo {
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly icc: Buffer | null;
  readonly profileName: string | null;
}

// Every file is read once and by one thread of its own: kept operations and extra threads would only hold memory.
sharp.cache(false);
sharp.concurrency(1);

const FOREIGN_SPACES: ReadonlyMap<string | undefined, string> = new Map([
  ['cmyk', 'CMYK'],
  ['lab', 'Lab'],
  ['labs', 'Lab'],
]);
const FORMATS = new Set(['jpeg', 'png', 'tiff', 'webp', 'heif']);

/**
 * Reads what a picture file is, without its pixels.
 * @throws InputError naming the file, what is wrong and what is accepted
 */
export async function inspectPicture(path: string, name = basename(path)): Promise<PictureInfo> {
  if (isRawName(name)) throw new InputError(name, 'this is a camera raw file', RAW_ADVICE);
  const info = await requireFile(path, name);
  if (info.size > fileLimitBytes()) {
    const limit = `files up to ${Math.round(fileLimitBytes() / 1e6)} MB`;
    throw new InputError(name, `the file is too large (${(info.size / 1e6).toFixed(1)} MB)`, limit);
  }
  const meta = await openPicture(path)
    .metadata()
    .catch(() => {
      throw new InputError(name, 'this is not a picture that can be read', ACCEPTED_FILES);
    });
  if (!FORMATS.has(meta.format)) throw new InputError(name, `${meta.format} files are not taken`, ACCEPTED_FILES);
  if (meta.compression === 'hevc') throw new InputError(name, 'HEVC pictures are not taken', ACCEPTED_FILES);
  const foreign = FOREIGN_SPACES.get(meta.space);
  if (foreign) throw new InputError(name, `${foreign} colour is not taken`, `${ACCEPTED_FILES}, RGB or grey`);
  // Floats are linear light, as libvips reads them; they are encoded to 16 bits when decoded.
  const isFloat = meta.depth === 'float' && meta.space === 'scrgb';
  if (meta.depth !== 'uchar' && meta.depth !== 'ushort' && !isFloat) {
    throw new InputError(name, `samples of type ${meta.depth} are not taken`, ACCEPTED_FILES);
  }
  const turned = (meta.orientation ?? 1) >= 5;
  const width = turned ? meta.height : meta.width;
  const height = turned ? meta.width : meta.height;
  if (Math.min(width, height) < SMALLEST_PX || Math.max(width, height) > LARGEST_PX) {
    throw new InputError(name, `the picture has ${width} × ${height} px`, ACCEPTED_FILES);
  }
  const bits = meta.depth === 'uchar' ? 8 : 16;
  checkUnpacked(name, info.size, width * height * 3 * (bits / 8));
  const { icc, name: profileName } = readProfile(meta.icc);
  return { width, height, bits, icc, profileName };
}

/**
 * Looks whether a path leads to a file: reading a pipe or a device would wait for ever.
 * @throws InputError for anything else, naming what it is
 */
export async function requireFile(path: string, name = basename(path)): Promise<{ readonly size: number }> {
  const info = await stat(path).catch(async () => {
    const link = await lstat(path).catch(() => null);
    const what = link?.isSymbolicLink() ? 'this link leads nowhere' : 'the file cannot be read';
    throw new InputError(name, what, ACCEPTED_FILES);
  });
  if (info.isFile()) return info;
  const what = info.isDirectory() ? 'a folder' : info.isFIFO() ? 'a pipe' : info.isSocket() ? 'a socket' : 'a device';
  throw new InputError(name, `this is ${what}, not a file`, ACCEPTED_FILES);
}

/**
 * Decodes all pixels to interleaved RGB in the file's own colour space, turned upright.
 * @throws InputError when the data ends early or is damaged
 */
export async function decodePicture(
  path: string,
  info: PictureInfo,
  name = basename(path),
): Promise<Uint8Array | Uint16Array> {
  if (endsEarly(path)) throw new InputError(name, 'the file ends early (truncated)', ACCEPTED_FILES);
  const depth = info.bits === 16 ? 'ushort' : 'uchar';
  const { data } = await uprightRgb(path, info.bits)
    .raw({ depth })
    .toBuffer({ resolveWithObject: true })
    .catch((error: unknown) => damaged(name, error));
  if (info.bits === 8) return data;
  return new Uint16Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength));
}

/**
 * Decodes all pixels into a file of bare rows, for pictures too large to be held whole.
 * @param scratch path of the file to write; the caller removes it
 * @returns where the rows begin in it: R, G, B interleaved, little-endian
 * @throws InputError when the data ends early or is damaged
 */
export async function decodeToFile(
  path: string,
  info: PictureInfo,
  scratch: string,
  name = basename(path),
): Promise<number> {
  if (endsEarly(path)) throw new InputError(name, 'the file ends early (truncated)', ACCEPTED_FILES);
  // The ending chooses libvips' own container: a header of 64 bytes, then rows, written as they are decoded.
  await uprightRgb(path, info.bits)
    .toFile(scratch)
    .catch((error: unknown) => damaged(name, error));
  return withDescriptor(scratch, (fd) => {
    const head = Buffer.alloc(64);
    readSync(fd, head, 0, 64, 0);
    const found = [4, 8, 12, 20].map((at) => head.readInt32LE(at));
    const wanted = [info.width, info.height, 3, info.bits === 16 ? 2 : 0];
    if (found.some((v, i) => v !== wanted[i])) throw new Error(`${name} was decoded to ${found.join(', ')}`);
    return 64;
  });
}

function uprightRgb(path: string, bits: 8 | 16): Sharp {
  return openPicture(path)
    .autoOrient()
    .removeAlpha()
    .toColourspace(bits === 16 ? 'rgb16' : 'srgb');
}

/** Says in words of our own what a decoder stumbled over. */
function damaged(name: string, error: unknown): never {
  if (isFull(error)) throw error;
  const reason = error instanceof Error ? error.message : String(error);
  const short = /premature|truncat|end of (image|file|stream|input)|not enough|read error|out of data|scanline/i.test(
    reason,
  );
  throw new InputError(name, short ? 'the file ends early (truncated)' : 'the picture data is damaged', ACCEPTED_FILES);
}

/**
 * Decodes a picture reduced to fit a square, 8-bit sRGB, turned upright.
 * @throws InputError when the data ends early or is damaged
 */
export async function decodeSmall(
  path: string,
  sidePx: number,
  name = basename(path),
): Promise<{ readonly data: Uint8Array; readonly width: number; readonly height: number }> {
  if (endsEarly(path)) throw new InputError(name, 'the file ends early (truncated)', ACCEPTED_FILES);
  const { data, info } = await openPicture(path)
    .autoOrient()
    .resize({ width: sidePx, height: sidePx, fit: 'inside', withoutEnlargement: true })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch((error: unknown) => damaged(name, error));
  return { data, width: info.width, height: info.height };
}

/**
 * Decodes a picture as 8-bit grey, turned upright, reduced where a side is longer than allowed.
 * @throws InputError when the data ends early or is damaged
 */
export async function decodeGrey(
  path: string,
  longestPx: number,
  name = basename(path),
): Promise<{ readonly data: Uint8Array; readonly width: number; readonly height: number }> {
  await inspectPicture(path, name);
  if (endsEarly(path)) throw new InputError(name, 'the file ends early (truncated)', ACCEPTED_FILES);
  const { data, info } = await openPicture(path)
    .autoOrient()
    .resize({ width: longestPx, height: longestPx, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#000' })
    .toColourspace('b-w')
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch((error: unknown) => damaged(name, error));
  return { data, width: info.width, height: info.height };
}

function openPicture(path: string): Sharp {
  return sharp(path, { ignoreIcc: true, failOn: 'warning', limitInputPixels: LARGEST_PX * LARGEST_PX });
}

/** JPEG decoders fill a cut-off file with grey without complaint, so its end mark is looked for. */
function endsEarly(path: string): boolean {
  return withDescriptor(path, (fd) => {
    const { size } = fstatSync(fd);
    const head = Buffer.alloc(2);
    readSync(fd, head, 0, 2, 0);
    if (head[0] !== 0xff || head[1] !== 0xd8) return false;
    const tail = Buffer.alloc(Math.min(size, 65536));
    readSync(fd, tail, 0, tail.length, size - tail.length);
    return tail.lastIndexOf(Buffer.from([0xff, 0xd9])) < 0;
  });
}
