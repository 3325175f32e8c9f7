// Deliveries as folders: complete with checksums that hold, or not there at all, and why.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { temporaryFolder } from '../../testing/inProcess';
import { deliverIntoFolder } from './intoFolder';

const { path: root, clean } = temporaryFolder();
afterAll(clean);
const source = join(root, 'source.tif');
writeFileSync(source, 'picture');
const files = [{ name: 'Gears.tif', path: source }];

it('holds the files and a list of their sums, and is made where nothing was before', async () => {
  const place = join(root, 'a', 'b');
  const folder = await deliverIntoFolder(place, 'Gears', files);
  expect(folder).toBe(join(place, 'Gears'));
  expect(readdirSync(folder).sort()).toEqual(['Gears.tif', 'checksums.sha256']);
  const sum = createHash('sha256').update('picture').digest('hex');
  expect(readFileSync(join(folder, 'checksums.sha256'), 'utf8')).toBe(`${sum}  Gears.tif\n`);
});

it('overwrites nothing', async () => {
  const place = join(root, 'taken');
  mkdirSync(join(place, 'Gears'), { recursive: true });
  writeFileSync(join(place, 'Gears', 'mine.txt'), 'mine');
  await expect(deliverIntoFolder(place, 'Gears', files)).rejects.toThrow('nothing is overwritten');
  expect(readdirSync(join(place, 'Gears'))).toEqual(['mine.txt']);
});

it('says what is wrong with the place, and leaves nothing there', async () => {
  await expect(deliverIntoFolder(join(source, 'under a file'), 'Gears', files)).rejects.toThrow(
    'has a file where a folder is needed. Accepted: another one, named by BLENDRAK_DELIVERIES.',
  );
  const place = join(root, 'half');
  const broken = [...files, { name: 'lost.pdf', path: join(root, 'lost.pdf') }];
  await expect(deliverIntoFolder(place, 'Gears', broken)).rejects.toThrow();
  expect(readdirSync(place)).toEqual([]);
  const gone = AbortSignal.abort();
  await expect(deliverIntoFolder(place, 'Gears', files, gone)).rejects.toThrow();
  expect(existsSync(join(place, 'Gears'))).toBe(false);
});
