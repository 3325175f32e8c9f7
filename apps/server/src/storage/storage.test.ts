// The database: migrations, strokes as the list behind undo, work that survives a kill.
import fs, { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { temporaryFolder } from '../testing/inProcess';
import { openDatabase } from './openDatabase';
import { openStorage, type Storage } from './index';
import { strokesTable } from './tables/strokes';

const { path, clean } = temporaryFolder();
afterAll(clean);

const stroke = { frame: 0, points: [[1, 2]] as [number, number][], sizePx: 10, hardness: 0.5, strength: 1 };

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

describe('strokes', () => {
  const inForce = ({ strokes }: Storage): string[] =>
    strokes
      .listByMerge('m')
      .filter((s) => !s.undone)
      .map((s) => s.id);

  it('undo and redo walk the list', () => {
    const storage = withMerge('undo');
    const { strokes } = storage;
    for (const [k, id] of ['a', 'b', 'c'].entries()) strokes.append('m', id, stroke, k + 1);
    expect(strokes.undo('m', 4)!.id).toBe('c');
    expect(strokes.undo('m', 5)!.id).toBe('b');
    expect(strokes.redo('m', 'x', 6)!.id).toBe('b');
    expect(inForce(storage)).toEqual(['a', 'b']);
    expect(strokes.redo('m', 'x', 7)!.id).toBe('c');
    expect(strokes.redo('m', 'x', 8)).toBeUndefined();
    expect(inForce(storage)).toEqual(['a', 'b', 'c']);
    storage.close();
  });

  it('a stroke that was undone is not lost when others are painted: it comes back on top, under a new id', () => {
    const storage = withMerge('elsewhere');
    const { strokes } = storage;
    strokes.append('m', 'first', stroke, 1);
    strokes.append('m', 'second', stroke, 2);
    strokes.undo('m', 3);
    strokes.append('m', 'of another', stroke, 4);
    expect(strokes.redo('m', 'second again', 5)!.id).toBe('second again');
    expect(inForce(storage)).toEqual(['first', 'of another', 'second again']);
    expect(strokes.changedSince('m', 4)).toMatchObject({
      changed: [{ id: 'second again', undone: false }],
      gone: ['second'],
    });
    storage.close();
  });

  // Tiles are kept for good by the id of the last stroke in them: it must always mean the same picture.
  it('the last stroke in force always stands for the same strokes below it', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('paint', 'undo', 'redo'), { maxLength: 40 }), (steps) => {
        const storage = withMerge(`walk${++walks}`);
        const { strokes } = storage;
        const pictures = new Map<string, string>();
        try {
          steps.forEach((step, k) => {
            if (step === 'paint') strokes.append('m', `p${k}`, { ...stroke, sizePx: k + 1 }, k + 1);
            else if (step === 'undo') strokes.undo('m', k + 1);
            else strokes.redo('m', `r${k}`, k + 1);
            const all = strokes.listByMerge('m').filter((s) => !s.undone);
            const picture = all.map((s) => s.sizePx).join();
            const top = all.at(-1)?.id ?? 'none';
            expect(pictures.get(top) ?? picture).toBe(picture);
            pictures.set(top, picture);
          });
        } finally {
          storage.close();
        }
      }),
      { numRuns: 40, seed: 7 },
    );
  });
  let walks = 0;

  it('strokes undone before the order was kept can all be brought back, the last of them last', () => {
    const file = join(path, 'undone.sqlite');
    const old = openDatabase(file, 6);
    old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Old', '2026-01-01')").run();
    old
      .prepare(
        "INSERT INTO merges (id, job_id, origin, body, revision, created_at) VALUES ('m', 'j', 'own', '{}', 9, '2026-01-01')",
      )
      .run();
    const insert = old.prepare("INSERT INTO strokes (id, merge_id, seq, body, undone) VALUES (?, 'm', ?, ?, ?)");
    for (const [id, seq, undone] of [
      ['a', 1, 0],
      ['b', 2, 1],
      ['c', 3, 1],
    ] as const)
      insert.run(id, seq, JSON.stringify(stroke), undone);
    old.close();
    const db = openDatabase(file);
    const strokes = strokesTable(db);
    expect([strokes.redo('m', 'x', 10)!.id, strokes.redo('m', 'x', 11)!.id]).toEqual(['b', 'c']);
    db.close();
  });
});

it('work that ran or waited for room when the server was killed is queued again; progress is not kept', () => {
  const { work, close } = withMerge('work');
  work.insert('w1', 'job', 'process', { reference: 'auto' });
  work.insert('w2', 'job', 'intake', {});
  work.setStatus('w1', 'running');
  work.setStatus('w2', 'paused', 'no room');
  work.setProgress('w1', 0.6, 'half way');
  expect(work.listByJob('job')[0]).toMatchObject({ progress: 0.6, message: 'half way' });
  work.requeueInterrupted();
  expect(work.queued().map((w) => [w.id, w.progress, w.error])).toEqual([
    ['w1', 0, null],
    ['w2', 0, null],
  ]);
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
