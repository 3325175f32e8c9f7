// The database: migrations, strokes as the list behind undo, work that survives a kill.
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { processSchema } from '@blendrak/contract';
import { temporaryFolder } from '../testing/inProcess';
import { MIGRATIONS, openDatabase } from './openDatabase';
import { openStorage, type Storage } from './index';

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

it('every older version is brought to the newest', () => {
  for (let from = 0; from <= MIGRATIONS.length; from++) {
    const file = join(path, `v${from}.sqlite`);
    openDatabase(file, from).close();
    const db = openDatabase(file);
    expect(db.pragma('user_version', { simple: true })).toBe(MIGRATIONS.length);
    expect(db.prepare("SELECT count(*) AS n FROM sqlite_master WHERE name = 'strokes'").get()).toEqual({ n: 1 });
    db.close();
  }
});

it('a database of a newer application is refused, not touched', () => {
  const file = join(path, 'newer.sqlite');
  const db = openDatabase(file);
  db.pragma('user_version = 99');
  db.close();
  expect(() => openDatabase(file)).toThrow('has version 99');
});

it('undo and redo walk the list of strokes; a new stroke ends redo', () => {
  const { strokes, close } = withMerge('undo');
  for (const id of ['a', 'b', 'c']) strokes.append('m', id, stroke);
  expect(strokes.undo('m')!.id).toBe('c');
  expect(strokes.undo('m')!.id).toBe('b');
  expect(strokes.redo('m')!.id).toBe('b');
  expect(
    strokes
      .listByMerge('m')
      .filter((s) => !s.undone)
      .map((s) => s.id),
  ).toEqual(['a', 'b']);
  strokes.append('m', 'd', stroke);
  expect(strokes.redo('m')).toBeUndefined();
  expect(strokes.listByMerge('m').map((s) => s.id)).toEqual(['a', 'b', 'd']);
  close();
});

it('work that ran when the server was killed is queued again', () => {
  const { work, close } = withMerge('work');
  work.insert('w1', 'job', 'process', { reference: 'auto' });
  work.setStatus('w1', 'running');
  work.setProgress('w1', 0.6, 'half way');
  work.requeueInterrupted();
  expect(work.queued().map((w) => [w.id, w.progress])).toEqual([['w1', 0]]);
  close();
});

it('files no row names are swept at the start, files that rows name stay', () => {
  const first = withMerge('sweep');
  for (const name of ['m.tiles', 'lost.tiles', 'half.tiles.part'])
    writeFileSync(join(first.folder.root, 'tiles', name), '');
  writeFileSync(join(first.folder.incoming, 'upload'), '');
  first.close();
  const again = openStorage(join(path, 'sweep'));
  expect(existsSync(again.folder.tiles('m'))).toBe(true);
  expect(existsSync(again.folder.tiles('lost'))).toBe(false);
  expect(existsSync(join(again.folder.root, 'tiles', 'half.tiles.part'))).toBe(false);
  expect(existsSync(join(again.folder.incoming, 'upload'))).toBe(false);
  again.close();
});

it('a subject that was a bare polygon becomes an area among the settings of the alignment, of merges and of waiting work', () => {
  const file = join(path, 'subjects.sqlite');
  const old = openDatabase(file, 5);
  old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Old', '2026-01-01')").run();
  const corners = [
    [0.1, 0.2],
    [0.8, 0.2],
    [0.5, 0.9],
  ];
  const insert = old.prepare(
    "INSERT INTO merges (id, job_id, origin, picture_id, body, revision, created_at) VALUES (?, 'j', 'own', NULL, ?, 0, '2026-01-01')",
  );
  insert.run('marked', JSON.stringify({ fileName: 'merge.tif', subject: corners }));
  insert.run('whole', JSON.stringify({ fileName: 'merge.tif', subject: [] }));
  insert.run('oldest', JSON.stringify({ fileName: 'merge.tif' }));
  old
    .prepare("INSERT INTO work (id, job_id, kind, payload, status, seq) VALUES ('w', 'j', 'process', ?, 'queued', 1)")
    .run(JSON.stringify({ reference: 'auto', subject: corners }));
  old.close();
  const db = openDatabase(file);
  const bodies = new Map(
    (db.prepare('SELECT id, body FROM merges').all() as { id: string; body: string }[]).map((r) => [
      r.id,
      JSON.parse(r.body) as unknown,
    ]),
  );
  const area = { subject: { shapes: [{ kind: 'polygon', corners }] } };
  expect(bodies.get('marked')).toEqual({ fileName: 'merge.tif', alignment: area });
  expect(bodies.get('whole')).toEqual({ fileName: 'merge.tif', alignment: { subject: { shapes: [] } } });
  expect(bodies.get('oldest')).toEqual({ fileName: 'merge.tif' });
  const { payload } = db.prepare('SELECT payload FROM work').get() as { payload: string };
  expect(processSchema.parse(JSON.parse(payload)).alignment.subject).toEqual({ ...area.subject, sharpOf: null });
  db.close();
});

it('the camera’s work under its old name is given up when it was still waiting, and kept when it was done', () => {
  const file = join(path, 'demo.sqlite');
  const old = openDatabase(file, 1);
  old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Demo', '2026-01-01')").run();
  const insert = old.prepare(
    "INSERT INTO work (id, job_id, kind, payload, status, seq) VALUES (?, 'j', 'demo', '{}', ?, 1)",
  );
  insert.run('waiting', 'queued');
  insert.run('past', 'done');
  old.close();
  const db = openDatabase(file);
  expect(db.prepare('SELECT id, kind, status FROM work ORDER BY id').all()).toEqual([
    { id: 'past', kind: 'shoot', status: 'done' },
    { id: 'waiting', kind: 'shoot', status: 'cancelled' },
  ]);
  db.close();
});
