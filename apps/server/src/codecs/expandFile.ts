// Files that hold several pictures: TIFF with pages, OpenRaster with layers. Each becomes a file of its own.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { z } from 'zod';
import { InputError } from './inputError';

/** A picture taken out of a file. */
export interface PartFile {
  readonly name: string;
  readonly path: string;
  readonly role: 'frame' | 'merge';
}

const MOST_PARTS = 255;
/** What an OpenRaster file may unpack to. */
const MOST_BYTES = 4e9;
const ORA_ACCEPTED = 'OpenRaster with stack.xml and PNG layers';

/**
 * Takes the pictures out of a file that holds several.
 * @param folder receives the parts; they are numbered
 * @returns null for a file that holds one picture
 * @throws InputError for a layered file that cannot be read
 */
export async function expandFile(path: string, name: string, folder: string): Promise<PartFile[] | null> {
  if (/\.ora$/i.test(name)) return expandLayers(path, name, folder);
  return /\.tiff?$/i.test(name) ? expandPages(path, name, folder) : null;
}

/** Pages of the first one's size; smaller ones are previews of it and are left alone. */
async function expandPages(path: string, name: string, folder: string): Promise<PartFile[] | null> {
  const open = (page: number) => sharp(path, { page, limitInputPixels: false });
  // A file that cannot be read at all is reported by the one who decodes it.
  const first = await open(0)
    .metadata()
    .catch(() => null);
  if (!first?.pages || first.pages < 2) return null;
  if (first.pages > MOST_PARTS)
    throw new InputError(name, `the file has ${first.pages} pages`, `up to ${MOST_PARTS} pages`);
  const pages: number[] = [];
  for (let page = 0; page < first.pages; page++) {
    const meta = await open(page).metadata();
    if (meta.width === first.width && meta.height === first.height) pages.push(page);
  }
  if (pages.length < 2) return null;
  const parts: PartFile[] = [];
  for (const page of pages) {
    const part = partOf(name, `page ${numbered(parts.length + 1, pages.length)}`, 'tif', folder);
    await open(page).keepIccProfile().tiff({ compression: 'none' }).toFile(part.path);
    parts.push({ ...part, role: 'frame' });
  }
  return parts;
}

const layerSchema = z.object({ src: z.string(), x: z.coerce.number().default(0), y: z.coerce.number().default(0) });
const imageSchema = z.object({ w: z.coerce.number().int().positive(), h: z.coerce.number().int().positive() });

/** Layers from the bottom up as frames on black; the flat picture in the file as the merge. */
async function expandLayers(path: string, name: string, folder: string): Promise<PartFile[]> {
  const files = unpack(path, name);
  const xml = files['stack.xml'];
  if (!xml) throw new InputError(name, 'stack.xml is missing', ORA_ACCEPTED);
  const { image, layers } = readStack(Buffer.from(xml).toString('utf8'), name);
  const parts: PartFile[] = [];
  for (const layer of layers) {
    const data = files[layer.src];
    if (!data) throw new InputError(name, `the layer ${layer.src} is missing`, ORA_ACCEPTED);
    const part = partOf(name, `layer ${numbered(parts.length + 1, layers.length)}`, 'png', folder);
    const flat = sharp({ create: { width: image.w, height: image.h, channels: 3, background: '#000000' } });
    await flat
      .composite([{ input: Buffer.from(data), left: layer.x, top: layer.y }])
      .png({ compressionLevel: 3 })
      .toFile(part.path)
      .catch(() => {
        throw new InputError(name, `the layer ${layer.src} cannot be read`, ORA_ACCEPTED);
      });
    parts.push({ ...part, role: 'frame' });
  }
  const merged = files['mergedimage.png'];
  if (merged) {
    const part = partOf(name, 'flat', 'png', folder);
    await sharp(Buffer.from(merged)).removeAlpha().png({ compressionLevel: 3 }).toFile(part.path);
    parts.push({ ...part, role: 'merge' });
  }
  return parts;
}

function unpack(path: string, name: string): Record<string, Uint8Array> {
  let total = 0;
  try {
    return unzipSync(readFileSync(path), {
      filter: (file) => {
        total += file.originalSize;
        if (total > MOST_BYTES)
          throw new InputError(name, 'it unpacks to more than 4 GB', 'OpenRaster files that unpack to less');
        return true;
      },
    });
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(name, 'this is no OpenRaster file', ORA_ACCEPTED);
  }
}

/** Layers of all groups in one list, bottom first: in the file the topmost comes first. */
function readStack(
  xml: string,
  name: string,
): { image: z.infer<typeof imageSchema>; layers: z.infer<typeof layerSchema>[] } {
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
  const file = `${name.replace(/\.[^.]+$/, '')} ${word}.${ending}`;
  return { name: file, path: join(folder, file.replace(/[/\\]/g, '_')) };
}

function numbered(k: number, of: number): string {
  return String(k).padStart(String(of).length, '0');
}
