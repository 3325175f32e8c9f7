/**
 * @jest-environment jsdom
 */
// What waits is sent under its own name, each kind to where it is done.
import { fakeServer, type FakeServer } from '../../../testing/fakeServer';
import { sendUnsent } from './sendUnsent';
import type { Unsent, WorkOrder } from './unsent';

const DONE = { revision: 3, changed: [], gone: [], undoable: 1, redoable: 0 };
let server: FakeServer;
beforeEach(() => {
  server = fakeServer({
    'POST /api/merges/m1/changes?since=2': DONE,
    'POST /api/merges/m1/by-hand?since=2&id=named-here': DONE,
    'POST /api/merges/m1/operations/o7/snap?since=2&id=named-here': DONE,
    'POST /api/merges/m1/masks?since=2&id=named-here&donor=3': DONE,
  });
});
afterEach(() => server.restore());

const named = { id: 'named-here', mergeId: 'm1', page: 'p' };
const sent = async (unsent: Unsent) => {
  expect((await sendUnsent(unsent, 2)).revision).toBe(3);
  return server.asked.at(-1)!;
};

it('a change is sent with its name', async () => {
  const { path, body } = await sent({ ...named, change: { kind: 'undo' } });
  expect([path, body]).toEqual([expect.stringContaining('/changes'), { id: named.id, change: { kind: 'undo' } }]);
});

it.each<readonly [string, WorkOrder]>([
  ['/by-hand', { kind: 'straighten', from: [10, 20], to: [90, 20], reachPx: 20 }],
  ['/operations/o7/snap', { kind: 'snap', operationId: 'o7', reachPx: 12 }],
  ['/masks', { kind: 'mask', donor: 3, file: new File(['x'], 'mask.png') }],
])('an order is sent to %s', async (where, order) => {
  expect((await sent({ ...named, order })).path).toContain(`/api/merges/m1${where}`);
});
