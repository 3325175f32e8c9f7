// Whose a data folder is: other people's folders are refused untouched, ours is entered by one server at a time.
import { spawn } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { temporaryFolder } from '../testing/inProcess';
import { openDatabase } from './openDatabase';
import { claimFolder } from './ownership';
import { openStorage } from './index';

const { path, clean } = temporaryFolder();
afterAll(clean);

/** Everything in a folder with its contents. */
function contentsOf(folder: string): Record<string, string> {
  return Object.fromEntries(
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((e) => e.isFile())
      .map((e) => [join(e.parentPath, e.name).slice(folder.length), readFileSync(join(e.parentPath, e.name), 'utf8')]),
  );
}

function folderWith(name: string, files: readonly string[]): string {
  const folder = join(path, name);
  for (const file of files) {
    mkdirSync(join(folder, file, '..'), { recursive: true });
    writeFileSync(join(folder, file), `contents of ${file}`);
  }
  return folder;
}

describe('a folder that is not ours is refused by what it holds, and nothing in it changes', () => {
  it.each([
    ['somebody’s originals', ['originals/DSC_1.jpg', 'originals/DSC_2.jpg'], 'originals'],
    ['somebody’s incoming', ['incoming/DSC_1.jpg'], 'incoming'],
    ['documents', ['a.txt', 'b.txt', 'c.txt', 'd.txt'], 'a.txt, b.txt, c.txt and 1 more'],
    ['a marker that is none of ours', ['blendrak-data.json'], 'blendrak-data.json cannot be read'],
    ['a database of something else', ['blendrak.sqlite', 'originals/x'], 'is no database of Blendrak'],
  ])('%s', (name, files, words) => {
    const folder = folderWith(name, files);
    const before = contentsOf(folder);
    expect(() => openStorage(folder)).toThrow(words);
    expect(() => openStorage(folder)).toThrow('Accepted: a new or empty folder');
    const after = contentsOf(folder);
    for (const file of Object.keys(before)) expect(after[file]).toBe(before[file]);
  });

  it('a file', () => {
    writeFileSync(join(path, 'file'), '');
    expect(() => claimFolder(join(path, 'file'))).toThrow('this is a file, not a folder');
  });
});

it('a new folder and an empty one become ours', () => {
  mkdirSync(join(path, 'empty'));
  for (const name of ['new/inner', 'empty']) {
    openStorage(join(path, name)).close();
    openStorage(join(path, name)).close();
    expect(readdirSync(join(path, name))).toContain('blendrak-data.json');
  }
});

it('a folder from before there were markers is ours by its database', () => {
  const folder = folderWith('older', ['originals/kept']);
  openDatabase(join(folder, 'blendrak.sqlite'), 4).close();
  const storage = openStorage(folder);
  expect(storage.db.pragma('user_version', { simple: true })).toBeGreaterThan(6);
  storage.close();
});

it('a second server is told who works in the folder; after a kill it may enter', async () => {
  const folder = join(path, 'shared');
  openStorage(folder).close();
  const script = `
    const Database = require(${JSON.stringify(require.resolve('better-sqlite3'))});
    const db = new Database(${JSON.stringify(join(folder, 'blendrak.lock'))});
    db.pragma('locking_mode = EXCLUSIVE');
    db.exec('BEGIN EXCLUSIVE');
    process.stdout.write('locked');
    setInterval(() => undefined, 1000);`;
  const other = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });
  await new Promise((done) => other.stdout.once('data', done));
  writeFileSync(
    join(folder, 'blendrak-running.json'),
    JSON.stringify({ pid: other.pid, startedAt: '2026-01-02', address: 'http://localhost:4310' }),
  );
  expect(() => claimFolder(folder)).toThrow(
    `another Blendrak works in this data folder (process ${other.pid}, since 2026-01-02, at http://localhost:4310)`,
  );
  const ended = new Promise((done) => other.once('exit', done));
  other.kill('SIGKILL');
  await ended;
  const claim = claimFolder(folder);
  expect(() => claimFolder(folder)).toThrow(`process ${process.pid}`);
  claim.release();
});

it('the lock is not taken for a database', () => {
  const folder = join(path, 'lock');
  const claim = claimFolder(folder);
  claim.release();
  const lock = new Database(join(folder, 'blendrak.lock'), { readonly: true });
  expect(lock.prepare('SELECT count(*) AS n FROM sqlite_master').get()).toEqual({ n: 0 });
  lock.close();
});
