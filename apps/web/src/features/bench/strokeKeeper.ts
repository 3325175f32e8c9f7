// Unsent strokes outlive the page: each is a record of its own in the browser's database, under the page that painted it, so that two
// pages never overwrite each other's. What a page leaves behind belongs to the next one that looks.
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { PAGE_NAME } from '../../shared/api';
import type { PendingStroke } from './store';

interface KeptStroke extends PendingStroke {
  /** The page that sends it. */
  readonly page: string;
  /** Order among all of that page, and by and large of all pages. */
  readonly at: number;
}

interface StrokeDb extends DBSchema {
  strokes: { key: string; value: KeptStroke };
}

export interface StrokeKeeper {
  /** Keeps a stroke until it is dropped; the same one again changes nothing. */
  keep(stroke: PendingStroke): Promise<void>;
  drop(id: string): Promise<void>;
  /** Takes over what pages that are gone have left, in the order in which it was painted. */
  adopt(): Promise<PendingStroke[]>;
}

const NAME = 'blendrak-strokes';
const LOCK = 'blendrak-page-';

/**
 * Opens the keeper for a page.
 * @param page its name; pages that are open are known by a lock each
 * @throws DOMException where the browser keeps nothing
 */
export async function openStrokeKeeper(page = PAGE_NAME): Promise<StrokeKeeper> {
  const db = await openDB<StrokeDb>(NAME, 1, {
    upgrade: (fresh) => void fresh.createObjectStore('strokes', { keyPath: 'id' }),
  });
  await holdLock(page);
  let last = 0;
  return {
    async keep({ id, mergeId, stroke }) {
      last = Math.max(last + 1, Date.now());
      const at = last;
      const change = db.transaction('strokes', 'readwrite');
      const known = await change.store.get(id);
      if (!known) await change.store.put({ id, mergeId, stroke, page, at });
      await change.done;
    },
    drop: (id) => db.delete('strokes', id),
    adopt: () => adopt(db, page),
  };
}

async function adopt(db: IDBPDatabase<StrokeDb>, page: string): Promise<PendingStroke[]> {
  const open = await openPages();
  // One transaction: of two pages that look at once, the first one has them.
  const change = db.transaction('strokes', 'readwrite');
  const left = (await change.store.getAll()).filter((s) => s.page !== page && !open.has(s.page));
  await Promise.all(left.map((s) => change.store.put({ ...s, page })));
  await change.done;
  return left.sort((a, b) => a.at - b.at).map(({ id, mergeId, stroke }) => ({ id, mergeId, stroke }));
}

/** Locks exist in secure pages only. Without them every page takes over all: the server knows a stroke that comes twice. */
function locks(): LockManager | null {
  return typeof navigator !== 'undefined' && 'locks' in navigator ? navigator.locks : null;
}

/** Holds the page's lock for as long as the page lives; resolves once it is held. */
function holdLock(page: string): Promise<void> {
  const manager = locks();
  if (!manager) return Promise.resolve();
  return new Promise((held, fail) => {
    manager
      .request(LOCK + page, () => {
        held();
        return new Promise<never>(() => undefined);
      })
      .catch(fail);
  });
}

async function openPages(): Promise<Set<string>> {
  const { held = [] } = (await locks()?.query()) ?? {};
  return new Set(held.flatMap(({ name }) => (name?.startsWith(LOCK) ? [name.slice(LOCK.length)] : [])));
}
