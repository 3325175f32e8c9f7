/**
 * @jest-environment jsdom
 */
// Time on a job: counted while it is worked on, not while nobody is there, and told once.
import { cleanup, fireEvent, renderHook } from '@testing-library/react';
import { fakeServer, type FakeServer } from '../testing/fakeServer';
import { useTimeSpent } from './timeSpent';

let server: FakeServer;
beforeEach(() => {
  jest.useFakeTimers();
  server = fakeServer({ 'POST /api/jobs/j1/time': null });
});
afterEach(() => {
  cleanup();
  server.restore();
  jest.useRealTimers();
});
const told = () => server.sent('POST').map((r) => r.body);

it('is told every half minute, and what is left when another finding is opened or the screen is left', () => {
  const hook = renderHook(
    ({ finding }: { finding: string | null }) => useTimeSpent({ id: 'j1', stage: 'bench' }, finding),
    {
      initialProps: { finding: 'f-1' as string | null },
    },
  );
  jest.advanceTimersByTime(30_000);
  expect(told()).toEqual([{ stage: 'bench', findingId: 'f-1', seconds: 30 }]);
  jest.advanceTimersByTime(12_000);
  hook.rerender({ finding: null });
  expect(told()[1]).toEqual({ stage: 'bench', findingId: 'f-1', seconds: 12 });
  jest.advanceTimersByTime(1_000);
  // Passing by is no work.
  hook.unmount();
  expect(told()).toHaveLength(2);
});

it('is not counted while nobody touches anything, and goes on when somebody does', () => {
  renderHook(() => useTimeSpent({ id: 'j1', stage: 'finish' }, null));
  jest.advanceTimersByTime(300_000);
  const seconds = (): number => told().reduce((sum: number, b) => sum + (b as { seconds: number }).seconds, 0);
  expect(seconds()).toBeLessThanOrEqual(60);
  const before = seconds();
  fireEvent.pointerMove(window);
  jest.advanceTimersByTime(30_000);
  expect(seconds() - before).toBeGreaterThan(20);
});

it('is not counted without a job', () => {
  renderHook(() => useTimeSpent(null, null));
  jest.advanceTimersByTime(120_000);
  expect(told()).toEqual([]);
});
