// A full disk: the database writes on its reserve, and what cannot be written is told, not half done.
import { existsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { isFull } from '../shared/noRoom';
import { temporaryFolder } from '../testing/inProcess';
import { openDatabase, retryWhenFull, type Db } from './openDatabase';
import { openReserve } from './reserve';
import { jobsTable } from './tables/jobs';

const { path, clean } = temporaryFolder();
afterAll(clean);

/** A database that may not grow any more: every page more is SQLITE_FULL, as on a full disk. */
function fullDatabase(name: string): { db: Db; grow: () => void } {
  const db = openDatabase(join(path, name));
  const pages = db.pragma('page_count', { simple: true }) as number;
  db.pragma(`max_page_count = ${pages}`);
  return { db, grow: () => void db.pragma(`max_page_count = ${pages + 1000}`) };
}

const long = (k: number): string => `${k} ${'name '.repeat(400)}`;

function fill(db: Db, many: number): void {
  const jobs = jobsTable(db);
  for (let k = 0; k < many; k++)
    jobs.insert({ id: `j${k}`, name: long(k), kind: 'focus-stack', created_at: '2026-01-01' });
}

it('a single statement is written on the reserve', () => {
  const { db, grow } = fullDatabase('statement.sqlite');
  let spent = 0;
  retryWhenFull(db, () => {
    spent += 1;
    grow();
    return true;
  });
  fill(db, 50);
  expect([jobsTable(db).list().length, spent]).toEqual([50, 1]);
  db.close();
});

it('a transaction is begun anew on the reserve, and is whole', () => {
  const { db, grow } = fullDatabase('transaction.sqlite');
  const transaction = retryWhenFull(db, () => {
    grow();
    return true;
  });
  transaction(() => fill(db, 50));
  expect(jobsTable(db).list()).toHaveLength(50);
  db.close();
});

it('without a reserve it is refused, nothing of it stays, and the database goes on', () => {
  const { db, grow } = fullDatabase('none.sqlite');
  const transaction = retryWhenFull(db, () => false);
  let refusal: unknown = null;
  try {
    transaction(() => fill(db, 50));
  } catch (error) {
    refusal = error;
  }
  expect(isFull(refusal)).toBe(true);
  expect(jobsTable(db).list()).toHaveLength(0);
  grow();
  transaction(() => fill(db, 3));
  expect(jobsTable(db).list()).toHaveLength(3);
  db.close();
});

it('another failure is not taken for a full disk', () => {
  const db = openDatabase(join(path, 'other.sqlite'));
  const room = jest.fn(() => true);
  const transaction = retryWhenFull(db, room);
  fill(db, 1);
  expect(() => transaction(() => fill(db, 1))).toThrow('UNIQUE');
  expect(room).not.toHaveBeenCalled();
  db.close();
});

it('the reserve takes up real room, gives it once, and is put back', () => {
  const file = join(path, 'reserve');
  const reserve = openReserve(file);
  // Blocks of 512 bytes: a sparse file would have none.
  expect(statSync(file).blocks * 512).toBeGreaterThanOrEqual(16e6);
  expect([reserve.spend(), existsSync(file), reserve.spend()]).toEqual([true, false, false]);
  reserve.refill();
  expect(statSync(file).size).toBe(16e6);
});
