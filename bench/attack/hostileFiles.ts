// Hostile files by the thousand, from a seed: of every format that is taken, spoilt in ways that occur and in ways that are meant.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { manyPages } from '../../apps/server/src/testing/hostileFiles';

type Random = () => number;
type Spoil = (file: Buffer, random: Random) => Buffer;

const below = (random: Random, limit: number): number => Math.floor(random() * limit);

const SPOILS: Readonly<Record<string, Spoil>> = {
  whole: (file) => file,
  'cut off': (file, random) => file.subarray(0, below(random, file.length)),
  'bytes changed': (file, random) => {
    const out = Buffer.from(file);
    for (let k = 0; k < 1 + below(random, 40); k++) out[below(random, out.length)] = below(random, 256);
    return out;
  },
  'head changed': (file, random) => {
    const out = Buffer.from(file);
    for (let k = 0; k < 6; k++) out[below(random, Math.min(out.length, 160))] = below(random, 256);
    return out;
  },
  'numbers made huge': (file, random) => {
    const out = Buffer.from(file);
    for (let k = 0; k < 4; k++)
      out.writeUInt32LE(0xffffff00 + below(random, 255), below(random, Math.min(out.length, 400) - 4));
    return out;
  },
  'a part twice': (file, random) => {
    const from = below(random, file.length);
    return Buffer.concat([file.subarray(0, from), file.subarray(Math.floor(from / 2))]);
  },
  'zeros in it': (file, random) => {
    const out = Buffer.from(file);
    const from = below(random, out.length);
    return out.fill(0, from, Math.min(out.length, from + 600));
  },
  empty: () => Buffer.alloc(0),
  noise: (_file, random) => Buffer.from(Array.from({ length: 40 + below(random, 900) }, () => below(random, 256))),
};

async function goodFiles(): Promise<Readonly<Record<string, Buffer>>> {
  const noise = { type: 'gaussian', mean: 128, sigma: 30 } as const;
  const plain = sharp({ create: { width: 160, height: 120, channels: 3, background: '#777', noise } });
  const png = await plain.clone().png().toBuffer();
  const pages = await sharp([png, png, png], { join: { across: 1 } })
    .raw()
    .toBuffer();
  const xml = '<image w="160" h="120"><stack><layer src="a.png" x="3" y="-4"/><layer src="a.png"/></stack></image>';
  return {
    jpg: await plain.clone().withMetadata({ density: 300 }).jpeg().toBuffer(),
    png,
    tif: await plain.clone().tiff().toBuffer(),
    'pages.tif': await sharp(pages, { raw: { width: 160, height: 360, channels: 3, pageHeight: 120 } })
      .tiff()
      .toBuffer(),
    '16.tif': await plain.clone().toColourspace('rgb16').withIccProfile('p3').tiff().toBuffer(),
    webp: await plain.clone().webp().toBuffer(),
    avif: await plain.clone().avif({ effort: 0 }).toBuffer(),
    ora: Buffer.from(zipSync({ 'stack.xml': Buffer.from(xml), 'a.png': png, 'mergedimage.png': png })),
  };
}

/** Files that are built for their harm. */
async function bombs(): Promise<Readonly<Record<string, Buffer>>> {
  const flat = await sharp({ create: { width: 4000, height: 3000, channels: 3, background: '#777' } })
    .png({ compressionLevel: 9 })
    .toBuffer();
  const layers = '<layer src="a.png"/>'.repeat(200);
  const wide = `<image w="29000" h="29000"><stack>${layers}</stack></image>`;
  const deep = `<image w="90" h="70">${'<stack>'.repeat(60_000)}<layer src="a.png"/>${'</stack>'.repeat(60_000)}</image>`;
  const entries = Object.fromEntries(Array.from({ length: 5000 }, (_, k) => [`e${k}`, Buffer.alloc(0)]));
  return {
    'pages.tif': manyPages(250, 8000, 6000),
    'toomany.tif': manyPages(400, 100, 100),
    'wide.ora': Buffer.from(zipSync({ 'stack.xml': Buffer.from(wide), 'a.png': flat })),
    'deep.ora': Buffer.from(zipSync({ 'stack.xml': Buffer.from(deep), 'a.png': flat })),
    'entries.ora': Buffer.from(zipSync({ 'stack.xml': Buffer.from(wide), ...entries })),
    'huge.webp': await sharp({ create: { width: 9600, height: 9600, channels: 3, background: '#777' } })
      .webp({ lossless: true, effort: 0 })
      .toBuffer(),
    'svg.png': Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="99999" height="99999"/>'),
    'other.jpg': Buffer.from('%PDF-1.4 not a picture'),
  };
}

/**
 * Writes hostile files.
 * @returns their names, in order
 */
export async function writeHostileFiles(folder: string, count: number, random: Random): Promise<string[]> {
  const good = Object.entries(await goodFiles());
  const harmful = Object.entries(await bombs());
  const spoils = Object.entries(SPOILS);
  return Array.from({ length: count }, (_, k) => {
    const harm = harmful[k];
    const [kind, file] = harm ?? good[k % good.length]!;
    const [, spoil] = spoils[below(random, spoils.length)]!;
    const name = `h${String(k).padStart(5, '0')}.${kind}`;
    writeFileSync(join(folder, name), harm ? file : spoil(file, random));
    return name;
  });
}

/** A TIFF of so many pages that are pictures. */
export async function manyPagesOf(path: string, pages: number): Promise<void> {
  const [width, height] = [300, 200];
  const noise = { type: 'gaussian', mean: 128, sigma: 30 } as const;
  const tall = await sharp({ create: { width, height: height * pages, channels: 3, background: '#777', noise } })
    .raw()
    .toBuffer();
  await sharp(tall, { raw: { width, height: height * pages, channels: 3, pageHeight: height } })
    .tiff()
    .toFile(path);
}
