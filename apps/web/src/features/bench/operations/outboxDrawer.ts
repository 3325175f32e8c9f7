// Where the outbox keeps what is unsent: the browser's database, one order for all its pages; what the database will not take is kept for
// as long as the page lasts.
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Unsent } from './unsent';

export interface OutboxDrawer {
  /** Adds a change behind all others; it never fails, but may be kept for the page's life only. */
  add(change: Unsent): Promise<void>;
  first(): Promise<Unsent | undefined>;
  /** All, in their order. */
  all(): Promise<Unsent[]>;
  drop(id: string): Promise<void>;
}

interface OldStroke {
  readonly id: string;
  readonly mergeId: string;
  readonly page: string;
  readonly stroke: {
    readonly frame: number;
    readonly points: [number, number][];
    readonly sizePx: number;
    readonly hardness: number;
    readonly strength: number;
  };
  readonly at: number;
}

interface OutboxDb extends DBSchema {
  changes: { key: number; value: Unsent; indexes: { byId: string } };
  /** Of the version before: strokes only. */
  strokes: { key: string; value: OldStroke };
}

const NAME = 'blendrak-strokes';

/**
 * Opens the drawer that all pages share.
 * @param onTrouble is told when something can only be kept for as long as the page lasts
 */
export async function openDrawer(onTrouble: () => void): Promise<OutboxDrawer> {
  const inMemory = memoryDrawer();
  const db = await openDatabase().catch(() => null);
  if (!db) {
    onTrouble();
    return inMemory;
  }
  return {
    async add(change) {
      await db.add('changes', change).catch(async (error: unknown) => {
        // The same one again changes nothing.
        if (error instanceof DOMException && error.name === 'ConstraintError') return;
        onTrouble();
        await inMemory.add(change);
      });
    },
    async first() {
      const cursor = await db.transaction('changes').store.openCursor();
      return cursor?.value ?? inMemory.first();
    },
    all: async () => [...(await db.getAll('changes')), ...(await inMemory.all())],
    async drop(id) {
      const change = db.transaction('changes', 'readwrite');
      const key = await change.store.index('byId').getKey(id);
      if (key !== undefined) await change.store.delete(key);
      await change.done;
      await inMemory.drop(id);
    },
  };
}

async function openDatabase(): Promise<IDBPDatabase<OutboxDb>> {
  return openDB<OutboxDb>(NAME, 2, {
    async upgrade(db, from, _to, change) {
      const made = db.createObjectStore('changes', { autoIncrement: true });
      made.createIndex('byId', 'id', { unique: true });
      if (from < 1) return;
      const old = await change.objectStore('strokes').getAll();
      for (const { id, mergeId, page, stroke } of old.sort((a, b) => a.at - b.at)) {
        const { frame, ...shape } = stroke;
        const operation = { kind: 'paint' as const, donor: frame, shape: { kind: 'stroke' as const, ...shape } };
        await made.add({ id, mergeId, page, change: { kind: 'add', operation } });
      }
      db.deleteObjectStore('strokes');
    },
  });
}

/** A drawer that lasts as long as the page. */
export function memoryDrawer(): OutboxDrawer {
  let kept: readonly Unsent[] = [];
  return {
    add: (change) => {
      if (!kept.some((c) => c.id === change.id)) kept = [...kept, change];
      return Promise.resolve();
    },
    first: () => Promise.resolve(kept[0]),
    all: () => Promise.resolve([...kept]),
    drop: (id) => {
      kept = kept.filter((c) => c.id !== id);
      return Promise.resolve();
    },
  };
}
