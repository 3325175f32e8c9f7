// The outbox: one order for all pages of a browser, nothing lost, nothing sent twice at once.
import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { openDB } from 'idb';
import type { OperationChanges } from '@blendrak/contract';
import { ServerProblem } from '../../../shared/api';
import { strokeOf } from '../../../testing/merges';
import { openOutbox, type Outbox, type OutboxNews } from './outbox';
import { memoryDrawer, openDrawer, type OutboxDrawer } from './outboxDrawer';
import type { Unsent, UnsentChange, UnsentOrder } from './unsent';

const NO_CHANGES: OperationChanges = { revision: 1, changed: [], gone: [], undoable: 0, redoable: 0 };
const adding = (id: string, page = 'one'): UnsentChange => ({
  ...{ id, mergeId: 'm1', page },
  change: { kind: 'add', operation: strokeOf(0) },
});
const undoing = (id: string): UnsentChange => ({ id, mergeId: 'm1', page: 'one', change: { kind: 'undo' } });
const ordering = (id: string): UnsentOrder => ({
  ...{ id, mergeId: 'm1', page: 'one' },
  order: { kind: 'straighten', from: [10, 20], to: [90, 20], reachPx: 20 },
});
const calmly = (): never => {
  throw new Error('nothing should have gone wrong');
};

/** A browser: its pages share a drawer, a channel and a lock. */
function browser(send: (unsent: Unsent) => Promise<OperationChanges>) {
  const pages: Outbox[] = [];
  let lock = Promise.resolve();
  const alone = (work: () => Promise<void>): Promise<void> => {
    const mine = lock.then(work);
    lock = mine.catch(() => undefined);
    return mine;
  };
  const openPage = (drawer: OutboxDrawer, retryMs = 5) => {
    const seen = { unsent: [] as string[], isAway: false, answered: [] as string[], refused: [] as string[] };
    const outbox = openOutbox({
      ...{ drawer, send, alone, retryMs },
      tell: (news: OutboxNews) => pages.filter((p) => p !== outbox).forEach((p) => p.hear(news)),
      onAnswer: ({ id }) => seen.answered.push(id),
      onRefused: ({ id }, words) => seen.refused.push(`${id}: ${words}`),
      onChange: (unsent, isAway) => Object.assign(seen, { unsent: unsent.map((u) => u.id), isAway }),
    });
    pages.push(outbox);
    return { outbox, seen };
  };
  return { openPage };
}
const until = async (holds: () => boolean): Promise<void> => {
  for (let k = 0; k < 400 && !holds(); k++) await new Promise((wait) => setTimeout(wait, 5));
  expect(holds()).toBe(true);
};

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
});

it('adds, undos and redos of two pages are sent one at a time, in the order in which they were asked', async () => {
  const sent: string[] = [];
  let under = 0;
  const { openPage } = browser(async ({ id }) => {
    under += 1;
    expect(under).toBe(1);
    await new Promise((wait) => setTimeout(wait, 3));
    sent.push(id);
    under -= 1;
    return NO_CHANGES;
  });
  const [one, two] = [openPage(await openDrawer(calmly)), openPage(await openDrawer(calmly))];
  one.outbox.add(adding('a'));
  one.outbox.add(undoing('b'));
  await new Promise((wait) => setTimeout(wait, 5));
  two.outbox.add(adding('c', 'two'));
  one.outbox.add(undoing('d'));
  await until(() => sent.length === 4 && one.seen.unsent.length === 0 && two.seen.unsent.length === 0);
  expect(sent.indexOf('a')).toBeLessThan(sent.indexOf('b'));
  expect(sent.indexOf('b')).toBeLessThan(sent.indexOf('d'));
  expect(new Set(sent)).toEqual(new Set(['a', 'b', 'c', 'd']));
});

it('while the server is away everything waits, in order, and is seen by both pages; then it goes', async () => {
  let isAway = true;
  const sent: string[] = [];
  const { openPage } = browser(({ id }) => {
    if (isAway) return Promise.reject(new ServerProblem(0, 'not there'));
    sent.push(id);
    return Promise.resolve(NO_CHANGES);
  });
  const [one, two] = [openPage(await openDrawer(calmly)), openPage(await openDrawer(calmly))];
  for (const change of [adding('a'), adding('b'), undoing('c')]) one.outbox.add(change);
  await until(() => one.seen.isAway && two.seen.unsent.length === 3);
  expect(one.seen.unsent).toEqual(['a', 'b', 'c']);
  isAway = false;
  await until(() => one.seen.unsent.length === 0);
  expect(sent).toEqual(['a', 'b', 'c']);
  expect(one.seen.isAway).toBe(false);
});

it('what a page that is gone has left is sent by the next one', async () => {
  const away = browser(() => Promise.reject(new ServerProblem(503, 'starting')));
  const gone = away.openPage(await openDrawer(calmly), 100_000);
  for (const id of ['a', 'b']) gone.outbox.add(adding(id));
  await until(() => gone.seen.isAway && gone.seen.unsent.length === 2);
  const sent: string[] = [];
  const next = browser(({ id }) => {
    sent.push(id);
    return Promise.resolve(NO_CHANGES);
  }).openPage(await openDrawer(calmly));
  await next.outbox.drain();
  expect(sent).toEqual(['a', 'b']);
  expect(next.seen.answered).toEqual(['a', 'b']);
});

it('what the server will never take is let go with its words, and holds up nothing behind it', async () => {
  const { openPage } = browser(({ id }) =>
    id === 'bad' ? Promise.reject(new ServerProblem(400, 'no such frame')) : Promise.resolve(NO_CHANGES),
  );
  const [one, two] = [openPage(await openDrawer(calmly)), openPage(await openDrawer(calmly))];
  for (const id of ['bad', 'good']) one.outbox.add(adding(id));
  await until(() => one.seen.answered.includes('good'));
  expect(one.seen.refused).toEqual(['bad: no such frame']);
  expect(two.seen.refused).toEqual(['bad: no such frame']);
});

it('what is asked for while the first is being sent is seen at once, and goes behind it', async () => {
  const sent: string[] = [];
  let release: () => void = () => undefined;
  const first = new Promise<void>((done) => {
    release = done;
  });
  const { openPage } = browser(async ({ id }) => {
    if (id === 'a') await first;
    sent.push(id);
    return NO_CHANGES;
  });
  const page = openPage(await openDrawer(calmly));
  page.outbox.add(adding('a'));
  await new Promise((wait) => setTimeout(wait, 20));
  page.outbox.add(adding('b'));
  expect(page.seen.unsent).toEqual(['a', 'b']);
  release();
  await until(() => page.seen.unsent.length === 0);
  expect(sent).toEqual(['a', 'b']);
});

it('what has just been laid in the drawer is unsent also when an answer comes before the drawer has been read again', async () => {
  let answer: () => void = () => undefined;
  const { openPage } = browser(async ({ id }) => {
    await new Promise<void>((done) => {
      if (id === 'a') answer = done;
    });
    return NO_CHANGES;
  });
  const drawer = await openDrawer(calmly);
  let [isSlow, isAsked] = [false, false];
  const all = async (): Promise<Unsent[]> => {
    isAsked = isSlow;
    await new Promise((wait) => setTimeout(wait, isSlow ? 200 : 0));
    return drawer.all();
  };
  const page = openPage({ ...drawer, all });
  page.outbox.add(adding('a'));
  await new Promise((wait) => setTimeout(wait, 20));
  isSlow = true;
  page.outbox.add(adding('b'));
  await until(() => isAsked);
  answer();
  await until(() => page.seen.answered.includes('a'));
  expect(page.seen.unsent).toEqual(['b']);
});

it('a browser that keeps nothing says so, and keeps it for as long as the page lasts', async () => {
  Object.defineProperty(globalThis, 'indexedDB', { configurable: true, writable: true, value: { open: calmly } });
  const told: string[] = [];
  const drawer = await openDrawer(() => told.push('trouble'));
  expect(told).toEqual(['trouble']);
  await drawer.add(adding('a'));
  await drawer.add(adding('a'));
  expect(await drawer.all()).toEqual([adding('a')]);
});

it('the drawer keeps the order, knows the same change again, and drops one by its name', async () => {
  for (const drawer of [memoryDrawer(), await openDrawer(calmly)]) {
    for (const id of ['a', 'b', 'a', 'c']) await drawer.add(adding(id));
    await drawer.drop('b');
    await drawer.drop('never there');
    expect((await drawer.all()).map((c) => c.id)).toEqual(['a', 'c']);
    expect((await drawer.first())!.id).toBe('a');
  }
});

it('strokes that an older version of the application left unsent are in the drawer, in their order', async () => {
  const old = await openDB('blendrak-strokes', 1, {
    upgrade: (db) => void db.createObjectStore('strokes', { keyPath: 'id' }),
  });
  const stroke = { frame: 2, points: [[5, 5]], sizePx: 20, hardness: 1, strength: 1 };
  for (const [id, at] of [
    ['later', 9],
    ['earlier', 3],
  ])
    await old.put('strokes', { id, mergeId: 'm1', page: 'gone', stroke, at });
  old.close();
  const all = await (await openDrawer(calmly)).all();
  expect(all.map((c) => c.id)).toEqual(['earlier', 'later']);
  const { frame: donor, ...shape } = stroke;
  const operation = { kind: 'paint', donor, shape: { kind: 'stroke', ...shape } };
  expect(all[0]).toMatchObject({ change: { kind: 'add', operation } });
});

it('what is answered is not unsent any more in the same moment: no undo counts twice', async () => {
  const drawer = memoryDrawer();
  // Reading the drawer takes a while, as that of a browser does.
  const all = async () => {
    await new Promise((wait) => setTimeout(wait, 20));
    return drawer.all();
  };
  let unsent: string[] = [];
  const leftAtAnswer: string[][] = [];
  const outbox = openOutbox({
    drawer: { ...drawer, all },
    send: () => Promise.resolve(NO_CHANGES),
    alone: (work) => work(),
    tell: () => undefined,
    onAnswer: () => queueMicrotask(() => leftAtAnswer.push(unsent)),
    onRefused: () => undefined,
    onChange: (list) => (unsent = list.map((u) => u.id)),
  });
  outbox.add(adding('a'));
  outbox.add(undoing('b'));
  await until(() => leftAtAnswer.length === 2);
  expect(leftAtAnswer).toEqual([['b'], []]);
});

it('what is to be worked out keeps its place, outlives the page, and holds nothing up when the server fails at it', async () => {
  const away = browser(() => Promise.reject(new ServerProblem(0, 'not there')));
  const gone = away.openPage(await openDrawer(calmly), 100_000);
  for (const one of [adding('a'), ordering('b'), undoing('c'), ordering('d'), adding('e')]) gone.outbox.add(one);
  await until(() => gone.seen.isAway && gone.seen.unsent.length === 5);
  const sent: Unsent[] = [];
  const next = browser((unsent) => {
    sent.push(unsent);
    return unsent.id === 'd' ? Promise.reject(new ServerProblem(500, 'it failed')) : Promise.resolve(NO_CHANGES);
  }).openPage(await openDrawer(calmly));
  await next.outbox.drain();
  expect(sent).toEqual([adding('a'), ordering('b'), undoing('c'), ordering('d'), adding('e')]);
  expect(next.seen.refused).toEqual(['d: it failed']);
});
