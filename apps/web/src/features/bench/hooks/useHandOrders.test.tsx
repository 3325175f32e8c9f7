/**
 * @jest-environment jsdom
 */
// Orders by hand: sent behind what was drawn before, and again under the same name while the server is away.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import type { UnsentChange } from '../operations/unsent';
import { useBench } from '../store';
import { useHandOrders } from './useHandOrders';

const asked: string[] = [];
const answers: (() => Promise<unknown>)[] = [];
beforeEach(() => {
  asked.splice(0);
  const fetch = (path: string): Promise<unknown> => {
    asked.push(path);
    return answers.shift()!();
  };
  Object.assign(globalThis, { fetch });
});
afterEach(() => {
  cleanup();
  useBench.getState().set({ unsent: [] });
});

const away = () => Promise.reject(new Error('no connection'));
const says = (status: number, body: unknown) => () =>
  Promise.resolve({ ok: status < 300, status, json: () => Promise.resolve(body) });
const DONE = says(201, { revision: 3, changed: [], gone: [], undoable: 1, redoable: 0 });
const order = { kind: 'straighten', from: [10, 20], to: [90, 20], reachPx: 20 } as const;

function hook(complaints: string[]) {
  const client = new QueryClient();
  const wrapper = ({ children }: { readonly children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return renderHook(() => useHandOrders('m1', (words) => complaints.push(words)), { wrapper }).result;
}

it('an order is sent again under its name until the server is back', async () => {
  const complaints: string[] = [];
  answers.push(away, away, DONE);
  const orders = hook(complaints);
  act(() => orders.current.give({ ...order, from: [10, 20], to: [90, 20] }));
  await waitFor(() => expect(asked.length).toBe(3), { timeout: 8000 });
  await waitFor(() => expect(orders.current.isWorking).toBe(false));
  const names = asked.map((path) => new URL(path, 'http://here').searchParams.get('id'));
  expect(new Set(names).size).toBe(1);
  expect(names[0]!.length).toBeGreaterThanOrEqual(8);
  expect(complaints).toEqual([expect.stringContaining('cannot be reached')]);
}, 15_000);

it('one that the server will not take is not sent again, and says why', async () => {
  const complaints: string[] = [];
  answers.push(
    says(409, { type: 'about:blank', title: 'Conflict', status: 409, detail: 'This line is straight already' }),
  );
  const orders = hook(complaints);
  act(() => orders.current.give({ ...order, from: [10, 20], to: [90, 20] }));
  await waitFor(() => expect(complaints).toEqual([expect.stringContaining('straight already')]));
  expect(asked.length).toBe(1);
});

it('waits for strokes of the same merge that are on their way', async () => {
  answers.push(DONE);
  const stroke = { id: 'stroke-before', mergeId: 'm1', page: 'p', change: { kind: 'undo' } } as UnsentChange;
  useBench.getState().set({ unsent: [stroke] });
  const orders = hook([]);
  act(() => orders.current.give({ ...order, from: [10, 20], to: [90, 20] }));
  await new Promise((resolve) => setTimeout(resolve, 60));
  expect(asked).toEqual([]);
  act(() => useBench.getState().set({ unsent: [] }));
  await waitFor(() => expect(asked.length).toBe(1));
  await waitFor(() => expect(orders.current.isWorking).toBe(false));
});
