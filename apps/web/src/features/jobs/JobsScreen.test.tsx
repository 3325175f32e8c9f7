/**
 * @jest-environment jsdom
 */
// All jobs: how each stands, a new one, one removed only when asked twice.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { summaryOf, workOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { JobsScreen } from './JobsScreen';

let server: FakeServer;
afterEach(() => {
  cleanup();
  server.restore();
});

it('says of each job how it stands, and leads to where it goes on', async () => {
  server = fakeServer({
    'GET /api/jobs': [
      summaryOf({ id: 'empty', name: 'Empty', frames: 0 }),
      summaryOf({ id: 'in', name: 'Frames only', frames: 1 }),
      summaryOf({ id: 'busy', name: 'Busy', work: workOf() }),
      summaryOf({ id: 'open', name: 'Open', mergeId: 'm', mergeFile: 'merge.tif', openFindings: 2, allFindings: 5 }),
      summaryOf({ id: 'settled', name: 'Settled', kind: 'panorama', mergeId: 'm', allFindings: 5 }),
      summaryOf({ id: 'clean', name: 'Clean', kind: 'bracket', mergeId: 'm' }),
    ],
  });
  showPage(<JobsScreen />);
  await screen.findByText('Empty', { selector: 'a' });
  const row = (name: string): HTMLElement => screen.getByText(name, { selector: 'a' }).closest('li')!;
  expect(row('Empty').textContent).toContain('Focus stack, 0 frames');
  expect(within(row('Empty')).getByText('Empty', { selector: 'p' })).toBeTruthy();
  expect(row('Frames only').textContent).toContain('1 frameFrames in, not merged yet');
  expect(row('Busy').textContent).toContain('Working: aligned 3 of 7');
  expect(row('Open').textContent).toContain('3 frames · merge.tif2 of 5 findings open');
  expect(row('Settled').textContent).toContain('Panorama, 3 framesAll 5 findings settled');
  expect(row('Clean').textContent).toContain('Nothing to report');
  const to = (name: string): string | null => screen.getByText(name, { selector: 'a' }).getAttribute('href');
  expect([to('Frames only'), to('Open')]).toEqual(['/jobs/in/frames', '/jobs/open/bench']);
});

it('says what to do first where there is no job yet', async () => {
  server = fakeServer({ 'GET /api/jobs': [] });
  showPage(<JobsScreen />);
  expect(await screen.findByText(/^No jobs yet/)).toBeTruthy();
});

it('says in the server’s words why there is no list', async () => {
  server = fakeServer({ 'GET /api/jobs': new Refusal(503, 'The database is being brought up to date.') });
  showPage(<JobsScreen />);
  expect(await screen.findByText('The database is being brought up to date.')).toBeTruthy();
});

describe('a new job', () => {
  beforeEach(async () => {
    server = fakeServer({ 'GET /api/jobs': [], 'POST /api/jobs': summaryOf({ id: 'new' }) });
    showPage(<JobsScreen />);
    await screen.findByText(/^No jobs yet/);
  });
  const name = (text: string): void =>
    void fireEvent.change(screen.getByLabelText('Name of the new job'), { target: { value: text } });
  const press = (): void => void fireEvent.click(screen.getByText('New job', { selector: 'button' }));

  it('needs a name, goes without its blanks, and is opened', async () => {
    name('   ');
    press();
    expect(server.sent('POST')).toHaveLength(0);
    name('  Cove at dusk ');
    press();
    expect(await screen.findByText('/jobs/new/frames')).toBeTruthy();
    expect(server.sent('POST')[0]!.body).toEqual({ name: 'Cove at dusk' });
  });

  it('that is refused leaves the name as typed, and says why', async () => {
    server.answer('POST /api/jobs', new Refusal(507, 'The disk is full: 3 MB are left.'));
    name('Cove');
    press();
    expect(await screen.findByText('The disk is full: 3 MB are left.')).toBeTruthy();
    expect((screen.getByLabelText('Name of the new job') as HTMLInputElement).value).toBe('Cove');
  });
});

it('a job is removed only when asked twice; leaving the button keeps it', async () => {
  server = fakeServer({ 'GET /api/jobs': [summaryOf()], 'DELETE /api/jobs/j1': {} });
  showPage(<JobsScreen />);
  fireEvent.click(await screen.findByLabelText('Remove Gears'));
  fireEvent.blur(screen.getByText('Remove?'));
  expect(screen.queryByText('Remove?')).toBeNull();
  fireEvent.click(screen.getByLabelText('Remove Gears'));
  server.answer('GET /api/jobs', []);
  fireEvent.click(screen.getByText('Remove?'));
  expect(await screen.findByText(/^No jobs yet/)).toBeTruthy();
  await waitFor(() => expect(server.sent('DELETE').map((d) => d.path)).toEqual(['/api/jobs/j1']));
});

it('a job that cannot be removed says why', async () => {
  server = fakeServer({
    'GET /api/jobs': [summaryOf()],
    'DELETE /api/jobs/j1': new Refusal(409, 'This job is being processed: cancel that first.'),
  });
  showPage(<JobsScreen />);
  fireEvent.click(await screen.findByLabelText('Remove Gears'));
  fireEvent.click(screen.getByText('Remove?'));
  expect(await screen.findByText('This job is being processed: cancel that first.')).toBeTruthy();
});

it('work can be cancelled where it shows, and says what became of it', async () => {
  server = fakeServer({
    'GET /api/jobs': [summaryOf({ work: workOf({ progress: 0 }) })],
    'POST /api/jobs/work/w1/cancel': {},
  });
  showPage(<JobsScreen />);
  fireEvent.click(await screen.findByText('Cancel', { selector: 'button' }));
  await waitFor(() => expect(server.sent('POST').map((p) => p.path)).toEqual(['/api/jobs/work/w1/cancel']));
  cleanup();
  server.answer('GET /api/jobs', [
    summaryOf({ id: 'f', work: workOf({ id: 'f', status: 'failed', error: 'frame02.jpg: the file ends early.' }) }),
    summaryOf({ id: 'c', work: workOf({ id: 'c', status: 'cancelled' }) }),
    summaryOf({ id: 'p', work: workOf({ id: 'p', status: 'paused', error: 'The disk is full.' }) }),
  ]);
  showPage(<JobsScreen />);
  expect(await screen.findByText('frame02.jpg: the file ends early.')).toBeTruthy();
  expect(screen.getByText('Cancelled.')).toBeTruthy();
  expect(screen.getByText('Working paused. The disk is full.')).toBeTruthy();
  // Only what waits can still be cancelled.
  expect(screen.getAllByText('Cancel', { selector: 'button' })).toHaveLength(1);
});
