/**
 * @jest-environment jsdom
 */
// Strokes on their way: sent in order, kept while the server is away, let go when it will never take them, and undone.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import type { SavedStroke } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../../testing/fakeServer';
import { KEYS, type StrokeList } from '../../../shared/queries';
import { useBench, type PendingStroke } from '../store';
import { useStrokeSender } from './useStrokeSender';
import { useUndo } from './useUndo';

const stroke = { frame: 1, points: [[5, 5]] as [number, number][], sizePx: 20, hardness: 1, strength: 1 };
const pending = (id: string, mergeId = 'm1'): PendingStroke => ({ id, mergeId, stroke });
const start = useBench.getState();
let server: FakeServer;
let client: QueryClient;
beforeEach(() => {
  jest.useFakeTimers();
  server = fakeServer({});
  client = new QueryClient();
  useBench.setState({ ...start, pending: [], takenBack: [] }, true);
});
afterEach(() => {
  cleanup();
  server.restore();
  jest.useRealTimers();
});
const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={client}>{children}</QueryClientProvider>
);
const pass = (ms: number): Promise<void> => act(async () => void (await jest.advanceTimersByTimeAsync(ms)));
const waiting = (): string[] => useBench.getState().pending.map((p) => p.id);
const known = (): string[] =>
  (client.getQueryData<StrokeList>(KEYS.strokes('m1'))?.strokes ?? []).map(
    (s) => `${s.id}${s.undone ? ' undone' : ''}`,
  );
/** Answers as the server does: each change with the next revision. */
function serve(): void {
  const all: SavedStroke[] = [];
  const changes = (changed: SavedStroke[]) => ({ revision: ++revision, changed, gone: [] });
  let revision = 0;
  for (let since = -1; since < 9; since++) {
    server.answer(`POST /api/merges/m1/strokes?since=${since}`, ({ body }: { body: unknown }) => {
      const made = { id: (body as { id: string }).id, undone: false, ...stroke };
      all.push(made);
      return changes([made]);
    });
    server.answer(`POST /api/merges/m1/undo?since=${since}`, () => {
      const last = all.findLast((s) => !s.undone)!;
      all[all.indexOf(last)] = { ...last, undone: true };
      return changes([{ ...last, undone: true }]);
    });
  }
}

describe('sending', () => {
  const send = () => {
    const refused: string[] = [];
    const { result } = renderHook(() => useStrokeSender('m1', (words) => void refused.push(words)), { wrapper });
    return { saving: () => result.current, refused };
  };

  it('goes one after the other, in order, and only this merge’s', async () => {
    serve();
    useBench.setState({ pending: [pending('one'), pending('else', 'm2'), pending('two'), pending('three')] });
    const { saving } = send();
    expect(saving()).toEqual({ state: 'saving', count: 3 });
    await pass(50);
    expect(server.sent('POST').map((p) => (p.body as { id: string }).id)).toEqual(['one', 'two', 'three']);
    expect(waiting()).toEqual(['else']);
    expect(saving()).toEqual({ state: 'saved' });
    expect(known()).toEqual(['one', 'two', 'three']);
    // Each asks for what changed since the answer before.
    expect(server.sent('POST').map((p) => p.path.split('=')[1])).toEqual(['-1', '1', '2']);
  });

  it('keeps what the server cannot take now, says so, and tries again', async () => {
    server.answer('POST /api/merges/m1/strokes?since=-1', new Refusal(503, 'restarting'));
    useBench.setState({ pending: [pending('kept')] });
    const { saving, refused } = send();
    await pass(20);
    expect(saving()).toEqual({ state: 'retrying', count: 1 });
    expect(server.sent('POST')).toHaveLength(1);
    serve();
    await pass(1600);
    expect(saving()).toEqual({ state: 'saved' });
    expect([known(), refused]).toEqual([['kept'], []]);
  });

  it('lets go of one that will never be taken, says why, and goes on with the next', async () => {
    serve();
    let first = true;
    server.answer('POST /api/merges/m1/strokes?since=-1', ({ body }: { body: unknown }) => {
      if (first) {
        first = false;
        return new Refusal(400, 'stroke.frame: this merge has frames 0 to 3, received 9.');
      }
      return { revision: 1, changed: [{ id: (body as { id: string }).id, undone: false, ...stroke }], gone: [] };
    });
    useBench.setState({ pending: [pending('bad'), pending('good')] });
    const { refused } = send();
    await pass(50);
    expect(refused).toEqual(['stroke.frame: this merge has frames 0 to 3, received 9.']);
    expect([waiting(), known()]).toEqual([[], ['good']]);
  });
});

describe('undo', () => {
  const undo = () => {
    const said: string[] = [];
    const { result } = renderHook(() => useUndo('m1', null, (words) => void said.push(words)), { wrapper });
    return { step: (which: 'undo' | 'redo') => act(() => result.current(which)), said };
  };

  it('takes the last unsent stroke out of the row, and redo puts it back', () => {
    useBench.setState({ pending: [pending('sending'), pending('two'), pending('else', 'm2')] });
    const { step } = undo();
    step('undo');
    expect(waiting()).toEqual(['sending', 'else']);
    expect(server.asked).toHaveLength(0);
    step('redo');
    expect(waiting()).toEqual(['sending', 'else', 'two']);
  });

  it('waits for the one on its way, so that not an older one is taken back', async () => {
    serve();
    useBench.setState({ pending: [pending('sending')] });
    const { step } = undo();
    step('undo');
    await pass(20);
    expect(server.asked).toHaveLength(0);
    renderHook(() => useStrokeSender('m1', () => undefined), { wrapper });
    await pass(50);
    expect(server.sent('POST').map((p) => p.path.replace(/\?.*/, ''))).toEqual([
      '/api/merges/m1/strokes',
      '/api/merges/m1/undo',
    ]);
    expect(known()).toEqual(['sending undone']);
  });

  it('that the server refuses is said', async () => {
    server.answer('POST /api/merges/m1/undo?since=-1', new Refusal(409, 'There is no stroke to take back.'));
    const { step, said } = undo();
    step('undo');
    await pass(20);
    expect(said).toEqual(['There is no stroke to take back.']);
  });
});
