// Folders on the server's machine: only below those that the start names, and no link leads out.
import { execFileSync } from 'node:child_process';
import { mkdirSync, realpathSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { temporaryFolder } from '../../testing/inProcess';
import { pictureAt, picturesIn, resolveRoots } from './folders';

const { path, clean } = temporaryFolder();
afterAll(clean);
const inside = join(path, 'photos');
const outside = join(path, 'private');
const set = join(inside, 'set');

beforeAll(() => {
  mkdirSync(set, { recursive: true });
  mkdirSync(outside);
  for (const file of [join(set, 'b10.jpg'), join(set, 'b9.jpg'), join(outside, 'secret.jpg')]) writeFileSync(file, 'x');
  symlinkSync(inside, join(path, 'other name'));
  mkdirSync(join(inside, 'linked'));
  symlinkSync(join(outside, 'secret.jpg'), join(inside, 'linked', 'a.jpg'));
  symlinkSync(outside, join(inside, 'way out'));
});

const roots = (): string[] => resolveRoots([inside]);

it('pictures come in order by name; pipes, folders and broken links are none', async () => {
  execFileSync('mkfifo', [join(set, 'pipe.jpg')]);
  mkdirSync(join(set, 'folder.jpg'));
  symlinkSync(join(set, 'gone.jpg'), join(set, 'broken.jpg'));
  expect((await picturesIn(set, roots())).map((f) => f.name)).toEqual(['b9.jpg', 'b10.jpg']);
  const byOtherName = await picturesIn(join(path, 'other name', 'set'), roots());
  expect(byOtherName[0]!.path).toBe(join(realpathSync(set), 'b9.jpg'));
});

it.each([
  ['a folder elsewhere', () => outside],
  ['a link to a folder elsewhere', () => join(inside, 'way out')],
  ['a way round', () => join(inside, '..', 'private')],
  ['the root of all', () => '/'],
])('%s is refused with what may be read', async (_, folder) => {
  await expect(picturesIn(folder(), roots())).rejects.toThrow(
    `it lies outside the folders that this server may read. Accepted: what lies below ${realpathSync(inside)}`,
  );
});

it('a link in a folder that leads out of it is refused by name', async () => {
  await expect(picturesIn(join(inside, 'linked'), roots())).rejects.toThrow('a.jpg: this link leads out of the folder');
});

it('a merge is a file below the same folders', async () => {
  await expect(pictureAt(join(outside, 'secret.jpg'), roots())).rejects.toThrow('outside the folders');
  await expect(pictureAt(join(inside, 'linked', 'a.jpg'), roots())).rejects.toThrow('outside the folders');
  await expect(pictureAt(set, roots())).rejects.toThrow('set: this is a folder, not a file');
  expect((await pictureAt(join(set, 'b9.jpg'), roots())).name).toBe('b9.jpg');
});

it('a folder beside with a longer name is not below', async () => {
  mkdirSync(join(path, 'photos2'));
  writeFileSync(join(path, 'photos2', 'a.jpg'), 'x');
  await expect(picturesIn(join(path, 'photos2'), roots())).rejects.toThrow('outside the folders');
});

it('a start that names a folder which is not there is refused', () => {
  expect(() => resolveRoots([join(path, 'none')])).toThrow('none: the folder cannot be read');
});
