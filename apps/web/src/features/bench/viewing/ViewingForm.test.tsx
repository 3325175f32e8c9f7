/**
 * @jest-environment jsdom
 */
// How a picture is looked at, and how sure a finding has to be: chosen, sent, and what is held back is said.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ViewingSettings } from '@blendrak/contract';
import { fakeServer, type FakeServer } from '../../../testing/fakeServer';
import { jobOf } from '../../../testing/jobs';
import { mergeOf } from '../../../testing/merges';
import { useBench } from '../store';
import { ViewingForm } from './ViewingForm';

let server: FakeServer;
const sent: unknown[] = [];
beforeEach(() => {
  sent.splice(0);
  server = fakeServer({
    'PATCH /api/jobs/j1': ({ body }: { body: unknown }) => {
      sent.push(body);
      return jobOf();
    },
  });
});
afterEach(() => {
  cleanup();
  server.restore();
});

function show(settings: ViewingSettings, unseen: number, unsure: number): void {
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ViewingForm merge={mergeOf([])} settings={settings} heldBack={{ unseen, unsure }} />
    </QueryClientProvider>,
  );
}

const choose = (words: string): void => {
  fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Shown, surest first' }));
  fireEvent.click(screen.getByRole('option', { name: words }));
};

it('a limit on false alarms is kept with the way of looking; all means none', async () => {
  show({ kind: 'print', longSideMm: 400, distanceMm: null }, 0, 0);
  choose('About 1 may be nothing');
  await waitFor(() =>
    expect(sent).toEqual([{ viewing: { kind: 'print', longSideMm: 400, distanceMm: null, falseAlarms: 1 } }]),
  );
  cleanup();
  show({ kind: 'screen', falseAlarms: 0.3 }, 0, 0);
  choose('All that were found');
  await waitFor(() => expect(sent[1]).toEqual({ viewing: { kind: 'screen' } }));
});

it('another way of looking keeps the limit', async () => {
  show({ kind: 'screen', falseAlarms: 3 }, 0, 0);
  fireEvent.click(screen.getByRole('button', { name: 'Printed' }));
  await waitFor(() =>
    expect(sent).toEqual([{ viewing: { kind: 'print', longSideMm: 600, distanceMm: null, falseAlarms: 3 } }]),
  );
});

it('what is held back is counted by reason, and can be shown', () => {
  show({ kind: 'screen', falseAlarms: 1 }, 1, 4);
  const all = screen.getByRole('switch', { name: '1 that is not seen so, 4 too unsure for that' });
  fireEvent.click(all);
  expect(useBench.getState().alsoHeldBack).toBe(true);
});

it('a limit that was set elsewhere is told as it is', () => {
  show({ kind: 'screen', falseAlarms: 5 }, 0, 0);
  expect(screen.getByRole('combobox', { name: 'Shown, surest first' }).textContent).toBe('About 5 may be nothing');
});
