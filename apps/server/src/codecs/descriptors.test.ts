// Tile files in numbers: hundreds at once on few descriptors, each read as itself, deleted ones let go.
import { renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { heldFiles } from '../testing/heldFiles';
import { temporaryFolder } from '../testing/inProcess';
import { closeDescriptors, openDescriptors } from './descriptors';
import { createTileFile, openTileFile, type TileFile } from './tileFile';

const { path: folder, clean } = temporaryFolder();
afterAll(() => {
  closeDescriptors();
  clean();
});

const SIDE = 16;

function plainFile(name: string, value: number): TileFile {
  const file = createTileFile(join(folder, name), SIDE, SIDE, 16);
  file.write(0, 0, 0, { width: SIDE, height: SIDE, data: new Uint16Array(SIDE * SIDE * 3).fill(value) });
  return file;
}

const valueOf = (file: TileFile): number => file.read(0, { x: 3, y: 5, width: 1, height: 1 }).data[0]!;

it('300 files are in use at once, each read as itself, in any order', () => {
  Array.from({ length: 300 }, (_, k) => plainFile(`many${k}`, 100 + k));
  const files = Array.from({ length: 300 }, (_, k) => openTileFile(join(folder, `many${k}`)));
  // Leaps through the list, so that each read finds the others' descriptors in its way.
  for (let step = 1; step < 900; step++) {
    const k = (step * 7919) % 300;
    expect(valueOf(files[k]!)).toBe(100 + k);
  }
  expect(openDescriptors()).toBeLessThanOrEqual(48);
  files.forEach((f) => f.close());
});

it('a file closed by one user can still be read by another that opened it', () => {
  const first = plainFile('shared', 7);
  const second = openTileFile(first.path);
  first.close();
  expect(valueOf(second)).toBe(7);
});

it('another file put in its place is never read as the one that was opened', () => {
  const old = plainFile('place', 1);
  const other = plainFile('other', 2);
  closeDescriptors();
  renameSync(other.path, old.path);
  expect(() => valueOf(old)).toThrow('has been replaced by another file');
  expect(valueOf(openTileFile(old.path))).toBe(2);
});

it('a number that the system gives out again is not taken for the deleted file', () => {
  const gone = plainFile('gone', 1);
  closeDescriptors();
  rmSync(gone.path);
  // As a rule the new file is given the old one's number.
  plainFile('gone', 2);
  closeDescriptors();
  expect(() => valueOf(gone)).toThrow('has been replaced');
});

it('the end of a task lets deleted files go', () => {
  const file = plainFile('deleted', 3);
  expect(valueOf(file)).toBe(3);
  rmSync(file.path);
  expect(heldFiles().some((path) => path.includes('deleted'))).toBe(true);
  closeDescriptors();
  expect(heldFiles().filter((path) => path.startsWith(folder))).toEqual([]);
});
