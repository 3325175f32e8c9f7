/**
 * @jest-environment jsdom
 */
// What a screen sees of a stroke while its answer comes.
import { QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, render } from '@testing-library/react';
import { makeQueryClient } from '../../../shared/queryClient';
import { keepOperations, KEYS, useOperations, type OperationList } from '../../../shared/queries';
import { listOf, operationOf, strokeOf } from '../../../testing/merges';
import { useBench } from '../store';
import { useForeseen } from './useOutbox';

afterEach(() => {
  cleanup();
  useBench.getState().set({ unsent: [] });
});

const settle = (): Promise<void> => act(() => new Promise<void>((done) => setTimeout(done, 20)));

it('a stroke is there, and can be taken back, in every picture of the screen while its answer comes', async () => {
  const client = makeQueryClient();
  client.setQueryData(KEYS.operations('m1'), listOf([]));
  const seen: string[] = [];
  function Screen() {
    const { data } = useOperations('m1');
    return <Strokes list={data!} />;
  }
  function Strokes({ list }: { readonly list: OperationList }) {
    const { operations, undoable } = useForeseen('m1', list);
    seen.push(`${operations.length} there, ${undoable} to take back`);
    return null;
  }
  render(
    <QueryClientProvider client={client}>
      <Screen />
    </QueryClientProvider>,
  );
  const change = { kind: 'add' as const, operation: strokeOf(0) };
  act(() => useBench.getState().set({ unsent: [{ id: 'x', mergeId: 'm1', page: 'one', change }] }));
  await settle();
  seen.length = 0;
  // As the outbox does on an answer. Outside of `act`, which would gather what comes in separate turns.
  const scope = globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean };
  scope.IS_REACT_ACT_ENVIRONMENT = false;
  keepOperations(client, 'm1', { revision: 1, changed: [operationOf('x', 1)], gone: [], undoable: 1, redoable: 0 });
  useBench.getState().set({ unsent: [] });
  await new Promise((done) => setTimeout(done, 20));
  scope.IS_REACT_ACT_ENVIRONMENT = true;
  expect(new Set(seen)).toEqual(new Set(['1 there, 1 to take back']));
});
