// Unsent strokes in the browser's database: nobody overwrites anybody's, and what is left behind is taken over once.
import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { keepPending } from './hooks/useKeptStrokes';
import { openStrokeKeeper } from './strokeKeeper';
import { useBench, type PendingStroke } from './store';

const stroke = { frame: 1, points: [[5, 5]] as [number, number][], sizePx: 20, hardness: 1, strength: 1 };
const pending = (id: string, mergeId = 'm1'): PendingStroke => ({ id, mergeId, stroke });
const ids = (list: readonly PendingStroke[]): string[] => list.map((p) => p.id);

/** Locks as a browser has them: a page's own are let go when it is closed. */
class Locks {
  private readonly names = new Set<string>();
  request(name: string, work: () => Promise<unknown>): Promise<unknown> {
    this.names.add(name);
    return work();
  }
  query(): Promise<{ held: { name: string }[] }> {
    return Promise.resolve({ held: [...this.names].map((name) => ({ name })) });
  }
  close(page: string): void {
    this.names.delete(`blendrak-page-${page}`);
  }
}

let locks: Locks;
function give(manager: Locks | null): void {
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: manager ? { locks: manager } : {},
  });
}
beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  locks = new Locks();
  give(locks);
  useBench.setState({ pending: [], takenBack: [] });
});

it('of two open pages each keeps its own; neither takes the other’s', async () => {
  const [one, two] = [await openStrokeKeeper('one'), await openStrokeKeeper('two')];
  await Promise.all([one.keep(pending('a')), two.keep(pending('b')), one.keep(pending('c'))]);
  expect(await one.adopt()).toEqual([]);
  expect(await two.adopt()).toEqual([]);
  locks.close('one');
  expect(ids(await two.adopt())).toEqual(['a', 'c']);
  locks.close('two');
  expect(ids(await (await openStrokeKeeper('three')).adopt()).sort()).toEqual(['a', 'b', 'c']);
});

it('what is left behind is taken over once, in the order it was painted, whole', async () => {
  const gone = await openStrokeKeeper('gone');
  for (const id of ['third', 'first', 'second']) await gone.keep(pending(id, 'm2'));
  locks.close('gone');
  const pages = await Promise.all(['x', 'y'].map((page) => openStrokeKeeper(page)));
  const taken = await Promise.all(pages.map((p) => p.adopt()));
  expect(taken.map((t) => t.length).sort()).toEqual([0, 3]);
  expect(taken.flat()).toEqual(['third', 'first', 'second'].map((id) => pending(id, 'm2')));
});

it('what was dropped is gone, also when it was dropped at once', async () => {
  const page = await openStrokeKeeper('page');
  await Promise.all([page.keep(pending('a')), page.drop('a'), page.keep(pending('b'))]);
  locks.close('page');
  expect(ids(await (await openStrokeKeeper('next')).adopt())).toEqual(['b']);
});

it('without locks every page takes all: the server knows a stroke that comes twice', async () => {
  give(null);
  const one = await openStrokeKeeper('one');
  await one.keep(pending('a'));
  expect(ids(await (await openStrokeKeeper('two')).adopt())).toEqual(['a']);
});

describe('the store', () => {
  const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 20));
  const never = (): void => {
    throw new Error('trouble');
  };

  it('is kept from then on: what is enqueued, until it is acknowledged; what others left comes first', async () => {
    const gone = await openStrokeKeeper('gone');
    await gone.keep(pending('left'));
    locks.close('gone');
    useBench.setState({ pending: [pending('early')] });
    const page = await openStrokeKeeper('page');
    await keepPending(page, never);
    expect(ids(useBench.getState().pending)).toEqual(['left', 'early']);
    useBench.getState().enqueue(pending('late'));
    useBench.getState().acknowledge('left');
    await settled();
    locks.close('page');
    expect(ids(await (await openStrokeKeeper('after')).adopt())).toEqual(['early', 'late']);
  });

  it('is kept also as it changes while the first strokes are written', async () => {
    useBench.setState({ pending: [pending('first'), pending('sent')] });
    const page = await openStrokeKeeper('page');
    const keeping = keepPending(page, never);
    useBench.getState().enqueue(pending('meanwhile'));
    useBench.getState().acknowledge('sent');
    await keeping;
    await settled();
    locks.close('page');
    expect(ids(await (await openStrokeKeeper('after')).adopt())).toEqual(['first', 'meanwhile']);
  });

  it('says when the browser cannot keep one', async () => {
    let told = 0;
    const full = {
      keep: () => Promise.reject(new Error('full')),
      drop: () => Promise.resolve(),
      adopt: () => Promise.resolve([]),
    };
    await keepPending(full, () => void (told += 1));
    useBench.getState().enqueue(pending('a'));
    await settled();
    expect(told).toBe(1);
    expect(ids(useBench.getState().pending)).toEqual(['a']);
  });
});
