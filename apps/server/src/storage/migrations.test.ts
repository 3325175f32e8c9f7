// Migrations: databases of every older version are brought to the newest, with what they hold.
import { join } from 'node:path';
import { processSchema } from '@blendrak/contract';
import { temporaryFolder } from '../testing/inProcess';
import { MIGRATIONS, openDatabase } from './openDatabase';

const { path, clean } = temporaryFolder();
afterAll(clean);

it('every older version is brought to the newest', () => {
  for (let from = 0; from <= MIGRATIONS.length; from++) {
    const file = join(path, `v${from}.sqlite`);
    openDatabase(file, from).close();
    const db = openDatabase(file);
    expect(db.pragma('user_version', { simple: true })).toBe(MIGRATIONS.length);
    expect(db.prepare("SELECT count(*) AS n FROM sqlite_master WHERE name = 'operations'").get()).toEqual({ n: 1 });
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
  const db = openDatabase(file, 8);
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

it('a similarity beside an optional view becomes one geometry, frames in their order', () => {
  const file = join(path, 'geometries.sqlite');
  const old = openDatabase(file, 7);
  old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Old', '2026-01-01')").run();
  const toMerge = { re: 1.5, im: 0.25, tx: -3, ty: 4 };
  const view = { model: 'homography', toFrame: [1, 0, 2, 0, 1, 3, 0, 0, 1] };
  const insert = old.prepare(
    "INSERT INTO merges (id, job_id, origin, body, revision, created_at) VALUES (?, 'j', 'own', ?, 3, '2026-01-01')",
  );
  const frames = [
    { fileName: 'a', toMerge, view: null, tone: [[0], [0], [0]] },
    { fileName: 'b', toMerge, view, tone: [[1], [1], [1]] },
    { fileName: 'c', toMerge },
  ];
  insert.run('full', JSON.stringify({ fileName: 'merge.tif', frames, width: 7 }));
  insert.run('none', JSON.stringify({ fileName: 'merge.tif', frames: [] }));
  old.close();
  const db = openDatabase(file, 8);
  const bodies = (db.prepare('SELECT body FROM merges ORDER BY id').all() as { body: string }[]).map(
    ({ body }) => JSON.parse(body) as unknown,
  );
  expect(bodies).toEqual([
    {
      fileName: 'merge.tif',
      width: 7,
      frames: [
        { fileName: 'a', tone: [[0], [0], [0]], geometry: { model: 'similarity', toMerge } },
        { fileName: 'b', tone: [[1], [1], [1]], geometry: view },
        { fileName: 'c', geometry: { model: 'similarity', toMerge } },
      ],
    },
    { fileName: 'merge.tif', frames: [] },
  ]);
  db.close();
});

it('yardsticks of a focus stack are kept by layer of evidence, and a merge that nobody looked at has none', () => {
  const file = join(path, 'layers.sqlite');
  const old = openDatabase(file, 8);
  old.prepare("INSERT INTO jobs (id, name, created_at) VALUES ('j', 'Old', '2026-01-01')").run();
  const axis = { positions: [0, 1, 2.5], source: 'breathing' };
  const calibration = {
    ...{ nearSide: 'last', nearSideSure: 0.8, curvature: null },
    ...{ ratioCentre: 0.1, ratioSpread: 0.2, typicalVariance: 0.7 },
  };
  const insert = old.prepare(
    "INSERT INTO merges (id, job_id, origin, body, revision, created_at) VALUES (?, 'j', 'own', ?, 3, '2026-01-01')",
  );
  insert.run('a', JSON.stringify({ fileName: 'merge.tif', axis, calibration }));
  insert.run('b', JSON.stringify({ fileName: 'merge.tif', axis: null, calibration: null }));
  old.close();
  const db = openDatabase(file, 9);
  const [looked, plain] = (db.prepare('SELECT body FROM merges ORDER BY id').all() as { body: string }[]).map(
    ({ body }) => JSON.parse(body) as unknown,
  );
  expect(looked).toEqual({
    fileName: 'merge.tif',
    inspection: {
      axis,
      surveys: {},
      yardsticks: {
        explanation: null,
        sharpness: { centre: 0.1, spread: 0.2 },
        unexplained: null,
        focus: { curvature: null, typicalVariance: 0.7 },
        spill: { nearSide: 'last', nearSideSure: 0.8 },
        rim: null,
        sensorSpots: null,
      },
    },
  });
  expect(plain).toEqual({ fileName: 'merge.tif', inspection: null });
  db.close();
});

it('facts of a merge become a union by kind, and the kind is known by what was kept, not by what the job is now', () => {
  const file = join(path, 'facts.sqlite');
  const old = openDatabase(file, 10);
  const job = old.prepare("INSERT INTO jobs (id, name, kind, created_at) VALUES (?, 'Old', ?, '2026-01-01')");
  job.run('stacks', 'focus-stack');
  job.run('brackets', 'bracket');
  const merge = old.prepare(
    "INSERT INTO merges (id, job_id, origin, body, revision, created_at) VALUES (?, ?, 'own', ?, 3, '2026-01-01')",
  );
  const frame = (k: number, ev: number | null, model = 'similarity') => ({
    ...{ fileName: `f${k}`, residualPx: 0.1234567890123 },
    ...{ geometry: { model }, ev, focusPosition: k * 1.5 },
  });
  const failed = [{ fileName: 'lost.jpg', why: 'nothing in common' }];
  const none = { parts: null, bordersPx: null, failed: [], remarks: [], panorama: null, moving: null };
  const axis = { positions: [0, 1.5], source: 'breathing' };
  const seen = { surveys: { a: 1 }, yardsticks: {} };
  const put = (id: string, jobId: string, body: object): unknown => merge.run(id, jobId, JSON.stringify(body));
  put('stack', 'stacks', {
    frames: [frame(0, null), frame(1, null)],
    inspection: { axis, ...seen },
    facts: { ...none, parts: 12, bordersPx: 3400.5, failed, model: 'homography', bendPx: 0.5 },
    cameras: null,
  });
  put('oldest', 'stacks', { frames: [frame(0, null)], inspection: null, facts: null, cameras: null });
  put('bracket', 'stacks', {
    frames: [frame(0, -2), frame(1, 0)],
    inspection: { axis: null, ...seen },
    facts: { ...none, moving: 0.25, model: 'shift', bendPx: null },
    cameras: null,
  });
  const cameras = { focalPx: [900.25], pairs: [[0, 1]] };
  const composed = { projection: 'flat', cropLoss: 0.2 };
  put('panorama', 'brackets', {
    frames: [frame(0, null, 'rotating-camera')],
    inspection: null,
    facts: { ...none, panorama: composed, parts: 2, bordersPx: 700, model: null, bendPx: null },
    cameras,
  });
  put('imported', 'brackets', {
    frames: [frame(0, null, 'rotating-camera')],
    inspection: { axis: null, ...seen },
    facts: { ...none, model: null, bendPx: null },
    cameras: null,
  });
  old.close();
  const db = openDatabase(file);
  const bodies = new Map(
    (db.prepare('SELECT id, body FROM merges').all() as { id: string; body: string }[]).map((r) => [
      r.id,
      JSON.parse(r.body) as { facts: object; frames: object[]; inspection: object | null },
    ]),
  );
  const said = { failed: [], remarks: [], bendPx: null };
  const facts = (id: string) => bodies.get(id)!.facts;
  expect(facts('stack')).toEqual({
    ...{ kind: 'focus-stack', failed, remarks: [], bendPx: 0.5 },
    ...{ model: 'homography', borders: { parts: 12, lengthPx: 3400.5 }, focus: axis },
  });
  expect(facts('oldest')).toEqual({ kind: 'focus-stack', ...said, model: 'similarity', borders: null, focus: null });
  expect(facts('bracket')).toEqual({ kind: 'bracket', ...said, model: 'shift', moving: 0.25, evs: [-2, 0] });
  const borders = { parts: 2, lengthPx: 700 };
  expect(facts('panorama')).toEqual({ kind: 'panorama', ...said, borders, composed, cameras });
  expect(facts('imported')).toEqual({ kind: 'panorama', ...said, borders: null, composed: null, cameras: null });
  expect(bodies.get('stack')!.frames[1]).toEqual({
    ...{ fileName: 'f1', residualPx: 0.1234567890123 },
    geometry: { model: 'similarity' },
  });
  expect(bodies.get('stack')!.inspection).toEqual(seen);
  expect(bodies.get('oldest')).not.toHaveProperty('cameras');
  expect(bodies.get('oldest')!.inspection).toBeNull();
  db.close();
});

it('frames that may be left out have the field’s word on cards sorted before', () => {
  const file = join(path, 'redundant.sqlite');
  const old = openDatabase(file, 9);
  const sorting = { sets: [{ checks: [{ check: 'adds-nothing', meaning: 'adds-nothing' }, { check: 'shake' }] }] };
  old
    .prepare("INSERT INTO cards (id, name, sorting, created_at) VALUES ('c', 'Old', ?, '2026-01-01')")
    .run(JSON.stringify(sorting));
  old.close();
  const db = openDatabase(file);
  const [card] = db.prepare('SELECT sorting FROM cards').all() as { sorting: string }[];
  expect(JSON.parse(card!.sorting)).toEqual({
    sets: [{ checks: [{ check: 'redundant', meaning: 'adds-nothing' }, { check: 'shake' }] }],
  });
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
