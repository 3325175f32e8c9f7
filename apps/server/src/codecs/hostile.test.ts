// Files that mean harm: they are refused by what they say of themselves, before anything is unpacked, and leave nothing.
import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { temporaryFolder } from '../testing/inProcess';
import { manyPages } from '../testing/hostileFiles';
import { expandFile, inspectPicture } from './index';
import { checkUnpacked, requireRoom } from './unpackLimits';

const { path: folder, clean } = temporaryFolder();
const out = join(folder, 'out');
mkdirSync(out);
afterAll(clean);
afterEach(() => expect(readdirSync(out)).toEqual([]));

const png = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#808080' } })
    .png({ compressionLevel: 9 })
    .toBuffer();

async function layered(canvas: string, layers: number, entries: Record<string, Uint8Array> = {}): Promise<string> {
  const layer = Array.from({ length: layers }, () => '<layer src="a.png"/>').join('');
  const path = join(folder, `${layers} layers.ora`);
  const stack = Buffer.from(`<image ${canvas}><stack>${layer}</stack></image>`);
  writeFileSync(path, zipSync({ 'stack.xml': stack, 'a.png': await png(90, 70), ...entries }));
  return path;
}

it('a small TIFF of many large pages is refused by what it would unpack to', async () => {
  const path = join(folder, 'bomb.tif');
  writeFileSync(path, manyPages(200, 4000, 3000));
  await expect(expandFile(path, 'bomb.tif', out)).rejects.toThrow(
    /^bomb\.tif: it would unpack to 2\.4 GB, \d\d\d,\d\d\d times its size\. Accepted: files that unpack to at most 2,000 times/,
  );
});

it('an OpenRaster file of many layers on a large canvas is refused', async () => {
  const path = await layered('w="20000" h="20000"', 200);
  await expect(expandFile(path, 'bomb.ora', out)).rejects.toThrow('it would unpack to 240.0 GB');
});

it('an OpenRaster file whose layer would swell is refused without unpacking it', async () => {
  const path = await layered('w="90" h="70"', 1);
  // What the list of contents says of the layer: 3 GB.
  const file = readFileSync(path);
  const entry = file.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2]));
  expect(file.toString('latin1', entry + 46, entry + 51)).toBe('a.png');
  file.writeUInt32LE(3e9, entry + 24);
  writeFileSync(path, file);
  await expect(expandFile(path, 'swell.ora', out)).rejects.toThrow('swell.ora: it would unpack to 3.0 GB');
});

it('a layer that holds more than the list of contents says is not read on', async () => {
  const path = await layered('w="90" h="70"', 1);
  const file = readFileSync(path);
  file.writeUInt32LE(20, file.lastIndexOf(Buffer.from([0x50, 0x4b, 1, 2])) + 24);
  writeFileSync(path, file);
  await expect(expandFile(path, 'more.ora', out)).rejects.toThrow('more.ora: the layer a.png cannot be read');
});

it.each([
  ['w="90" h="70.5"', 1, 'stack.xml names no size or no layers'],
  ['w="90000" h="70"', 1, 'stack.xml names no size or no layers'],
  ['w="90" h="70"', 256, 'stack.xml names no size or no layers'],
])('a canvas of %s with %i layers is refused', async (canvas, layers, words) => {
  const path = await layered(canvas, layers);
  await expect(expandFile(path, 'odd.ora', out)).rejects.toThrow(words);
});

it('a layer that is no PNG, and one that is damaged, are named', async () => {
  const jpeg = await sharp({ create: { width: 90, height: 70, channels: 3, background: '#888' } })
    .jpeg()
    .toBuffer();
  const other = await layered('w="90" h="70"', 1, { 'a.png': jpeg });
  await expect(expandFile(other, 'other.ora', out)).rejects.toThrow('other.ora: the layer a.png is jpeg, 90 × 70 px');
  const cut = await layered('w="90" h="70"', 1, { 'a.png': (await png(90, 70)).subarray(0, 60) });
  await expect(expandFile(cut, 'cut.ora', out)).rejects.toThrow('cut.ora: the layer a.png cannot be read');
});

it('a layer that reaches beyond the canvas is cut to it, one beside it leaves black', async () => {
  const stack =
    '<image w="60" h="50"><stack><layer src="a.png" x="-40" y="-30"/><layer src="a.png" x="70"/></stack></image>';
  const path = join(folder, 'beyond.ora');
  writeFileSync(path, zipSync({ 'stack.xml': Buffer.from(stack), 'a.png': await png(90, 70) }));
  const target = join(folder, 'taken');
  mkdirSync(target);
  const [beside, beyond] = (await expandFile(path, 'beyond.ora', target))!;
  const at = async (file: string, x: number, y: number) =>
    (await sharp(file).extract({ left: x, top: y, width: 1, height: 1 }).raw().toBuffer())[0];
  expect([await at(beyond!.path, 49, 39), await at(beyond!.path, 50, 39), await at(beyond!.path, 49, 40)]).toEqual([
    128, 0, 0,
  ]);
  expect(await at(beside!.path, 30, 20)).toBe(0);
});

it('a picture that would swell beyond all measure is refused, a plain large one is not', () => {
  expect(() => checkUnpacked('odd.webp', 400, 805e6)).toThrow('odd.webp: it would unpack to 805 MB, 2,012,500 times');
  // A black picture of 60 MP, as small as PNG makes it, and a photograph.
  expect(() => checkUnpacked('black.png', 180_000, 180e6)).not.toThrow();
  expect(() => checkUnpacked('large.jpg', 60e6, 5.4e9)).not.toThrow();
});

it('what is no file is named as what it is, and nothing waits for it', async () => {
  const pipe = join(folder, 'pipe.jpg');
  execFileSync('mkfifo', [pipe]);
  symlinkSync(join(folder, 'nowhere.jpg'), join(folder, 'link.jpg'));
  mkdirSync(join(folder, 'folder.jpg'));
  await expect(inspectPicture(pipe)).rejects.toThrow('pipe.jpg: this is a pipe, not a file. Accepted: JPEG');
  await expect(inspectPicture(join(folder, 'link.jpg'))).rejects.toThrow('link.jpg: this link leads nowhere');
  await expect(inspectPicture(join(folder, 'folder.jpg'))).rejects.toThrow('folder.jpg: this is a folder');
  await expect(inspectPicture('/dev/zero', 'zero.png')).rejects.toThrow('zero.png: this is a device');
  await expect(inspectPicture(join(folder, 'none.jpg'))).rejects.toThrow('none.jpg: the file cannot be read');
});

it('a disk without room for it is told before anything is written', () => {
  expect(() => requireRoom(folder, 1e15, 'reading all of it')).toThrow(
    /^The disk is full: reading all of it needs 1000000\.1 GB, [\d.]+ GB are free\. Accepted: more free space/,
  );
});
