// Files that hold several pictures: TIFF with pages, OpenRaster with layers. Each becomes a file of its own. What a file
// says of itself is checked before anything is unpacked, and only what is asked for is unpacked, piece by piece.
import { createWriteStream, openSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { XMLParser } from 'fast-xml-parser';
import sharp from 'sharp';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { z } from 'zod';
import { inWords, isFull } from '../shared/noRoom';
import { InputError } from './inputError';
import { LARGEST_PX, requireFile } from './readPicture';
import { checkUnpacked, requireRoom } from './unpackLimits';

/** A picture taken out of a file. */
export interface PartFile {
  readonly name: string;
  readonly path: string;
  readonly role: 'frame' | 'merge';
}

const MOST_PARTS = 255;
const MOST_ENTRIES = 4096;
const MOST_XML_BYTES = 4e6;
const MOST_STEM_BYTES = 200;
const ORA_ACCEPTED = `OpenRaster with stack.xml and 1 to ${MOST_PARTS} PNG layers, canvas and layers up to ${LARGEST_PX.toLocaleString('en')} px a side`;

/**
 * Takes the pictures out of a file that holds several.
 * @param folder receives the parts; they are numbered
 * @returns null for a file that holds one picture
 * @throws InputError for a layered file that cannot be read, or that would unpack to more than is sound
 * @throws NoRoomError when the disk cannot hold the parts
 */
export async function expandFile(path: string, name: string, folder: string): Promise<PartFile[] | null> {
  if (/\.ora$/i.test(name)) return expandLayers(path, name, folder);
  return /\.tiff?$/i.test(name) ? expandPages(path, name, folder) : null;
}

/** Pages of the first one's size; smaller ones are previews of it and are left alone. */
async function expandPages(path: string, name: string, folder: string): Promise<PartFile[] | null> {
  const { size } = await requireFile(path, name);
  const open = (page: number) => sharp(path, { page, limitInputPixels: LARGEST_PX * LARGEST_PX });
  // A file that cannot be read at all is reported by the one who decodes it.
  const first = await open(0)
    .metadata()
    .catch(() => null);
  if (!first?.pages || first.pages < 2) return null;
  if (first.pages > MOST_PARTS)
    throw new InputError(name, `the file has ${first.pages} pages`, `up to ${MOST_PARTS} pages`);
  const pages: number[] = [];
  for (let page = 0; page < first.pages; page++) {
    const meta = await open(page)
      .metadata()
      .catch(() => {
        throw new InputError(name, `page ${page + 1} cannot be read`, 'TIFF files whose pages are all whole');
      });
    if (meta.width === first.width && meta.height === first.height) pages.push(page);
  }
  if (pages.length < 2) return null;
  const deep = first.depth === 'uchar' ? 1 : first.depth === 'float' ? 4 : 2;
  const total = pages.length * first.width * first.height * first.channels * deep;
  checkUnpacked(name, size, total);
  requireRoom(folder, total, `taking ${name} apart`);
  const parts: PartFile[] = [];
  for (const page of pages) {
    const part = partOf(name, `page ${numbered(parts.length + 1, pages.length)}`, 'tif', folder);
    await open(page)
      .keepIccProfile()
      .tiff({ compression: 'none' })
      .toFile(part.path)
      .catch((error: unknown) => {
        if (isFull(error)) throw error;
        throw new InputError(name, `page ${page + 1} is damaged`, 'TIFF files whose pages are all whole');
      });
    parts.push({ ...part, role: 'frame' });
  }
  return parts;
}

const offsetSchema = z.coerce.number().int().min(-LARGEST_PX).max(LARGEST_PX).default(0);
const layerSchema = z.object({ src: z.string(), x: offsetSchema, y: offsetSchema });
const sideSchema = z.coerce.number().int().positive().max(LARGEST_PX);
const imageSchema = z.object({ w: sideSchema, h: sideSchema });
type Layer = z.infer<typeof layerSchema>;
type Canvas = z.infer<typeof imageSchema>;

/** Layers from the bottom up as frames on black; the flat picture in the file as the merge. */
async function expandLayers(path: string, name: string, folder: string): Promise<PartFile[]> {
  const { size } = await requireFile(path, name);
  const archive = await openArchive(path, name);
  try {
    const xml = archive.entries.get('stack.xml');
    if (!xml) throw new InputError(name, 'stack.xml is missing', ORA_ACCEPTED);
    const { image, layers } = readStack(await archive.text(xml), name);
    const merged = archive.entries.get('mergedimage.png');
    const sources = layers.map((layer): [Layer, Entry] => {
      const entry = archive.entries.get(layer.src);
      if (!entry) throw new InputError(name, `the layer ${layer.src} is missing`, ORA_ACCEPTED);
      return [layer, entry];
    });
    const canvases = sources.length * image.w * image.h * 3;
    const packed = [...sources.map(([, entry]) => entry), ...(merged ? [merged] : [])];
    const total = canvases + packed.reduce((sum, entry) => sum + entry.uncompressedSize, 0);
    checkUnpacked(name, size, total);
    requireRoom(folder, total, `taking ${name} apart`);
    const parts: PartFile[] = [];
    for (const [layer, entry] of sources) {
      const part = partOf(name, `layer ${numbered(parts.length + 1, layers.length)}`, 'png', folder);
      await archive.unpacked(entry, folder, (file) => placeLayer(file, layer, image, part.path, name));
      parts.push({ ...part, role: 'frame' });
    }
    if (merged) {
      const part = partOf(name, 'flat', 'png', folder);
      await archive.unpacked(merged, folder, async (file) => {
        await sizeOf(file, 'mergedimage.png', name);
        await sharp(file).removeAlpha().png({ compressionLevel: 3 }).toFile(part.path);
      });
      parts.push({ ...part, role: 'merge' });
    }
    return parts;
  } finally {
    archive.close();
  }
}

/** The part of a layer that lies on the canvas, on black. */
async function placeLayer(file: string, layer: Layer, image: Canvas, out: string, name: string): Promise<void> {
  const { width, height } = await sizeOf(file, layer.src, name);
  const [left, top] = [Math.max(0, layer.x), Math.max(0, layer.y)];
  const [cutLeft, cutTop] = [left - layer.x, top - layer.y];
  const seen = { width: Math.min(width - cutLeft, image.w - left), height: Math.min(height - cutTop, image.h - top) };
  const flat = sharp({ create: { width: image.w, height: image.h, channels: 3, background: '#000000' } });
  if (seen.width > 0 && seen.height > 0) {
    const whole = seen.width === width && seen.height === height;
    const input = whole
      ? file
      : await sharp(file)
          .extract({ left: cutLeft, top: cutTop, ...seen })
          .png({ compressionLevel: 1 })
          .toBuffer();
    flat.composite([{ input, left, top }]);
  }
  await flat.png({ compressionLevel: 3 }).toFile(out);
}

/** Size of a layer's picture, before its pixels are asked for. */
async function sizeOf(file: string, src: string, name: string): Promise<{ width: number; height: number }> {
  const meta = await sharp(file, { limitInputPixels: LARGEST_PX * LARGEST_PX }).metadata();
  if (meta.format !== 'png' || Math.max(meta.width, meta.height) > LARGEST_PX)
    throw new InputError(name, `the layer ${src} is ${meta.format}, ${meta.width} × ${meta.height} px`, ORA_ACCEPTED);
  return meta;
}

interface Archive {
  readonly entries: ReadonlyMap<string, Entry>;
  text(entry: Entry): Promise<string>;
  /** Unpacks an entry into a file that is there while it is worked on. */
  unpacked(entry: Entry, folder: string, work: (file: string) => Promise<void>): Promise<void>;
  close(): void;
}

/** Reads the list of what is in a ZIP file, and nothing else. */
async function openArchive(path: string, name: string): Promise<Archive> {
  const broken = (): never => {
    throw new InputError(name, 'this is no OpenRaster file', ORA_ACCEPTED);
  };
  const zip = await openPromise(path, { lazyEntries: true, autoClose: false }).catch(broken);
  const close = (): void => zip.close();
  try {
    if (zip.entryCount > MOST_ENTRIES)
      throw new InputError(name, `it holds ${zip.entryCount} entries`, `up to ${MOST_ENTRIES} entries`);
    const entries = await listEntries(zip).catch(broken);
    return {
      entries,
      close,
      async text(entry) {
        if (entry.uncompressedSize > MOST_XML_BYTES)
          throw new InputError(
            name,
            `stack.xml has ${inWords(entry.uncompressedSize)}`,
            `up to ${inWords(MOST_XML_BYTES)}`,
          );
        // What is read is never more than the entry says: the reader checks it.
        return readText(zip, entry).catch(broken);
      },
      async unpacked(entry, folder, work) {
        const file = join(folder, 'entry.png');
        try {
          await pipeline(await streamOf(zip, entry), createWriteStream(file, { fd: openSync(file, 'w') }));
          await work(file);
        } catch (error) {
          if (error instanceof InputError || isFull(error)) throw error;
          throw new InputError(name, `the layer ${entry.fileName} cannot be read`, ORA_ACCEPTED);
        } finally {
          await rm(file, { force: true });
        }
      },
    };
  } catch (error) {
    close();
    throw error;
  }
}

function listEntries(zip: ZipFile): Promise<Map<string, Entry>> {
  return new Promise((done, fail) => {
    const entries = new Map<string, Entry>();
    zip.on('entry', (entry: Entry) => {
      entries.set(entry.fileName, entry);
      zip.readEntry();
    });
    zip.once('end', () => done(entries));
    zip.once('error', fail);
    zip.readEntry();
  });
}

async function readText(zip: ZipFile, entry: Entry): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of await streamOf(zip, entry)) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString('utf8');
}

function streamOf(zip: ZipFile, entry: Entry): Promise<NodeJS.ReadableStream> {
  return new Promise((done, fail) => {
    zip.openReadStream(entry, (error, stream) => (error ? fail(error) : done(stream)));
  });
}

/** Layers of all groups in one list, bottom first: in the file the topmost comes first. */
function readStack(xml: string, name: string): { image: Canvas; layers: Layer[] } {
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    preserveOrder: true,
    processEntities: false,
  });
  const layers: unknown[] = [];
  let image: unknown = null;
  const walk = (nodes: readonly Record<string, unknown>[]): void => {
    for (const node of nodes) {
      if ('image' in node) image = node[':@'];
      if ('layer' in node) layers.push(node[':@']);
      for (const inner of [node['image'], node['stack']])
        if (Array.isArray(inner)) walk(inner as Record<string, unknown>[]);
    }
  };
  try {
    walk(parser.parse(xml) as Record<string, unknown>[]);
    const found = z.array(layerSchema).min(1).max(MOST_PARTS).parse(layers);
    return { image: imageSchema.parse(image), layers: found.reverse() };
  } catch {
    throw new InputError(name, 'stack.xml names no size or no layers', ORA_ACCEPTED);
  }
}

function partOf(name: string, word: string, ending: string, folder: string): Omit<PartFile, 'role'> {
  const stem = name.replace(/\.[^.]+$/, '');
  // File systems take names of up to 255 bytes; what the picture is called may be longer.
  const short = Buffer.from(stem.replace(/[/\\\0]/g, '_'))
    .subarray(0, MOST_STEM_BYTES)
    .toString('utf8');
  return { name: `${stem} ${word}.${ending}`, path: join(folder, `${short} ${word}.${ending}`) };
}

function numbered(k: number, of: number): string {
  return String(k).padStart(String(of).length, '0');
}
