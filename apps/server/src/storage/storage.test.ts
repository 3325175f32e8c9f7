// The database: migrations, operations and what changed of them, work that survives a kill.
import fs, { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { temporaryFolder } from '../testing/inProcess';
import { paintStroke } from '../testing/paint';
import { openDatabase } from './openDatabase';
import { openStorage, type Storage } from './index';

const { path, clean } = temporaryFolder();
afterAll(clean);

function withMerge(name: string): Storage {
  const storage = openStorage(join(path, name));
  storage.jobs.insert({ id: 'job', name: 'Test', kind: 'focus-stack', created_at: '2026-01-01' });
  storage.merges.insert({
    id: 'm',
    job_id: 'job',
    origin: 'own',
    picture_id: null,
    body: '{}',
    revision: 0,
    created_at: '2026-01-01',
  });
  return storage;
}

describe('operations', () => {
  it('act in their order, and say what changed since a revision', () => {
    const storage = withMerge('order');
    const { operations } = storage;
    for (const [k, id] of ['a', 'b', 'c'].entries()) operations.append('m', id, paintStroke(0), k + 1);
    operations.patch('c', { order: 0.5, enabled: false }, 4);
    operations.patch('b', { live: false }, 5);
    expect(operations.listByMerge('m').map((o) => [o.id, o.enabled])).toEqual([
      ['c', false],
      ['a', true],
    ]);
    expect(operations.changedSince('m', 3)).toMatchObject({ changed: [{ id: 'c', revision: 4 }], gone: ['b'] });
    operations.append('m', 'd', paintStroke(null), 6);
    expect(operations.listByMerge('m').map((o) => o.id)).toEqual(['c', 'a', 'd']);
    storage.close();
  });

  it('strokes of older versions become operations that anybody can take back and bring back, the last of them last', () => {
    const folder = join(path, 'undone');
    mkdirSync(folder);
    const old = openDatabase(join(folder, 'blendrak.sqlite'), 6);
    old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Old', '2026-01-01')").run();
    old
      .prepare(
        "INSERT INTO merges (id, job_id, origin, body, revision, created_at) VALUES ('m', 'j', 'own', '{}', 9, '2026-01-01')",
      )
      .run();
    const insert = old.prepare("INSERT INTO strokes (id, merge_id, seq, body, undone) VALUES (?, 'm', ?, ?, ?)");
    const stroke = { frame: 2, points: [[1.25, 2]], sizePx: 10, hardness: 0.5, strength: 1 };
    for (const [id, seq, undone] of [
      ['a', 1, 0],
      ['b', 2, 1],
      ['c', 3, 1],
    ] as const)
      insert.run(id, seq, JSON.stringify(stroke), undone);
    old.close();
    const storage = openStorage(folder);
    const { operations, operationChanges } = storage;
    expect(operations.listByMerge('m')).toEqual([
      {
        ...paintStroke(2, [[1.25, 2]]),
        ...{ id: 'a', order: 1, enabled: true, name: '', variant: '', mask: null, revision: 9 },
      },
    ]);
    expect(operationChanges.undone('m', 'somebody').map((c) => c.id)).toEqual(['b', 'c']);
    expect(operationChanges.count('m', 'somebody')).toEqual({ undoable: 1, redoable: 2 });
    storage.close();
  });
});

it('work that ran or waited for room when the server was killed is queued again; progress is not kept', () => {
  const { work, close } = withMerge('work');
  work.insert('w1', 'job', 'process', { reference: 'auto' });
  work.insert('w2', 'job', 'intake', {});
  work.setStatus('w1', 'running');
  work.setStatus('w2', 'paused', 'no room');
  work.setProgress('w1', { progress: 0.6, message: 'half way' });
  const first = { pictureId: null, width: 10, height: 10, findings: [] };
  work.setProgress('w1', { first });
  expect(work.listByJob('job')[0]).toMatchObject({ progress: 0.6, message: 'half way', first });
  work.requeueInterrupted();
  expect(work.queued().map((w) => [w.id, w.progress, w.error])).toEqual([
    ['w1', 0, null],
    ['w2', 0, null],
  ]);
  expect(work.listByJob('job')[0]).not.toHaveProperty('first');
  close();
});

describe('files that no row names', () => {
  const names = (folder: string): string[] => (existsSync(folder) ? readdirSync(folder).sort() : []);

  it('are moved aside at the start and named, never removed; files that rows name stay', () => {
    const first = withMerge('orphans');
    const { root } = first.folder;
    first.close();
    for (const file of ['tiles/m.tiles', 'tiles/lost.tiles', 'originals/DSC_0001.jpg', 'looks/x.look'])
      writeFileSync(join(root, file), file);
    mkdirSync(join(root, 'incoming'));
    writeFileSync(join(root, 'incoming', 'holiday.jpg'), 'holiday');
    const again = openStorage(root);
    expect(existsSync(again.folder.tiles('m'))).toBe(true);
    expect([names(join(root, 'originals')), names(join(root, 'incoming'))]).toEqual([[], []]);
    const [day] = names(join(root, 'set-aside'));
    expect(day).toMatch(/^\d{4}-\d\d-\d\d$/);
    const aside = join(root, 'set-aside', day!);
    expect(names(aside)).toEqual(['incoming', 'looks', 'originals', 'tiles']);
    expect(readFileSync(join(aside, 'incoming', 'holiday.jpg'), 'utf8')).toBe('holiday');
    expect(again.notices.join()).toContain('4 files that no job names were moved to');
    expect(again.notices.join()).toContain('DSC_0001.jpg');
    again.close();
    writeFileSync(join(root, 'originals', 'DSC_0001.jpg'), 'another of that name');
    openStorage(root).close();
    expect(names(join(aside, 'originals'))).toEqual(['2 DSC_0001.jpg', 'DSC_0001.jpg']);
  });

  it('stay where they are when the database is new: it knows nothing', () => {
    const first = withMerge('moved');
    const { root, database } = first.folder;
    first.close();
    writeFileSync(join(root, 'originals', 'upload'), 'a picture');
    for (const ending of ['', '-wal', '-shm']) rmSync(database + ending, { force: true });
    const again = openStorage(root);
    expect(readFileSync(join(root, 'originals', 'upload'), 'utf8')).toBe('a picture');
    expect(again.notices.join()).toContain('is new and does not know 1 file');
    again.close();
  });

  it('that a killed run left half made are gone after the next start', () => {
    const killed = withMerge('killed');
    const { root } = killed.folder;
    writeFileSync(killed.folder.scratchFile('.tiles'), 'half');
    killed.expect(['n']);
    writeFileSync(killed.folder.tiles('n'), 'made, not told of');
    // As a kill does: nothing is closed but what the system closes.
    killed.db.close();
    killed.claim.release();
    const again = openStorage(root);
    expect(names(join(root, 'scratch'))).toHaveLength(1);
    expect(existsSync(again.folder.tiles('n'))).toBe(false);
    expect([names(join(root, 'set-aside')), again.notices]).toEqual([[], []]);
    again.close();
  });

  it('of removed rows go with them, also when a kill came between', () => {
    const storage = withMerge('removed');
    const { root } = storage.folder;
    writeFileSync(storage.folder.tiles('m'), 'tiles');
    const fail = jest.spyOn(fs, 'rmSync').mockImplementation(() => {
      throw new Error('killed');
    });
    expect(() => storage.discard(['m'], () => storage.jobs.remove('job'))).toThrow('killed');
    fail.mockRestore();
    expect(storage.merges.find('m')).toBeUndefined();
    storage.close();
    const again = openStorage(root);
    expect(existsSync(again.folder.tiles('m'))).toBe(false);
    expect(again.notices).toEqual([]);
    again.close();
  });
});
