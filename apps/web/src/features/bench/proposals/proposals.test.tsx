/**
 * @jest-environment jsdom
 */
// Proposed repairs as people meet them: on a finding's card, and all at once.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { ReactElement } from 'react';
import type { Proposal, Work } from '@blendrak/contract';
import { findingOf, mergeOf, strokeOf } from '../../../testing/merges';
import { MendPanel } from './MendPanel';
import { ProposalCard } from './ProposalCard';
import type { Proposing } from './useProposals';

afterEach(cleanup);

const proposalOf = (findingId: string, part: Partial<Proposal> = {}): Proposal => ({
  id: `p-${findingId}`,
  mergeId: 'm1',
  findingId,
  operation: strokeOf(3, [[70, 60]]),
  rest: 0.02,
  closes: true,
  plants: null,
  revision: 0,
  state: 'waiting',
  ...part,
});

const asked: unknown[] = [];
const proposingOf = (proposals: readonly Proposal[], work: Work | null = null): Proposing => ({
  ...{ proposals, work },
  workOut: (order) => void asked.push(order),
  choose: (choice) => void asked.push(choice),
});
beforeEach(() => void asked.splice(0));

const show = (element: ReactElement) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SnackbarProvider>{element}</SnackbarProvider>
    </QueryClientProvider>,
  );

describe('on the card', () => {
  const finding = findingOf('a');
  const merge = mergeOf([finding]);
  const card = (proposals: readonly Proposal[], of = finding) =>
    show(<ProposalCard merge={merge} finding={of} proposing={proposingOf(proposals)} />);

  it('a repair is worked out when it is asked for', () => {
    card([]);
    fireEvent.click(screen.getByRole('button', { name: 'Work out a repair' }));
    expect(asked).toEqual([{ findingId: 'a' }]);
  });

  it('an evening is called what it is: nothing is painted in', () => {
    const { shape } = strokeOf(3, [[70, 60]]);
    const tone = { columns: 2, rows: 2, values: new Array<number>(12).fill(0.02) };
    card([proposalOf('a', { operation: { kind: 'paint', donor: null, shape, tone } })]);
    expect(screen.getByText(/tone evened over \d+ × \d+ px/)).toBeTruthy();
  });

  it('it is shown before and after, in states of the picture that differ, and kept or refused', () => {
    card([proposalOf('a')]);
    const [now, then] = screen.getAllByRole('img').map((i) => i.getAttribute('src')!);
    // A place of 120 px is asked for at its own size, however large it is shown.
    expect(now).toMatch(/\/10,0,120,120\/120,120\/.*v=0$/);
    expect(then).toMatch(/v=[0-9a-f]{16}$/);
    expect(screen.getByText('d.jpg over 12 × 12 px')).toBeTruthy();
    expect(screen.getByRole('status').textContent).toContain('nothing of it is left');
    fireEvent.click(screen.getByRole('button', { name: 'Keep it (Y)' }));
    fireEvent.click(screen.getByRole('button', { name: 'Refuse' }));
    expect(asked).toEqual([{ keep: ['p-a'] }, { refuse: ['p-a'] }]);
  });

  it.each([
    [{ closes: false, rest: 0.38 }, '38 % of it would stay'],
    [{ operation: null, closes: false, rest: 1, plants: 'seam' as const }, 'would plant a seam'],
    [{ operation: null, closes: false, rest: 1 }, 'none that was tried leaves less of it'],
  ])('what it would not do is said: %#', (part, words) => {
    card([proposalOf('a', part)]);
    expect(screen.getByRole('status').textContent).toContain(words);
  });

  it('one that was refused, or kept and taken back, can be worked out anew; what is settled needs none', () => {
    card([proposalOf('a', { state: 'refused' })]);
    expect(screen.getByRole('button', { name: 'Work out a repair' })).toBeTruthy();
    cleanup();
    card([], findingOf('a', { decision: 'accepted' }));
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('all at once', () => {
  const merge = mergeOf([
    findingOf('a', { severity: 80 }),
    findingOf('b', { severity: 30, defect: 'halo' }),
    findingOf('c', { severity: 90, donor: null, repairable: false }),
    findingOf('d', { severity: 70, decision: 'accepted' }),
  ]);
  const opened: string[] = [];
  const panel = (proposing: Proposing, of = merge) =>
    show(<MendPanel merge={of} proposing={proposing} onOpen={(id) => opened.push(id)} />);

  it('asks only for what is open, repairable and visible enough, and refuses no number silently', () => {
    panel(proposingOf([]));
    expect(screen.getByRole('button', { name: 'Work out 2' })).toBeTruthy();
    const over = screen.getByRole('textbox', { name: 'Visible above' });
    fireEvent.change(over, { target: { value: '50' } });
    fireEvent.click(screen.getByRole('button', { name: 'Work out 1' }));
    expect(asked).toEqual([{ over: 50 }]);
    fireEvent.change(over, { target: { value: '120' } });
    expect(screen.getByText('0 to 100')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Work out/ }).disabled).toBe(true);
  });

  it('lists what came of each, leads to it, and keeps those that close together', () => {
    panel(proposingOf([proposalOf('a'), proposalOf('b', { closes: false, rest: 0.5 }), proposalOf('d')]));
    const rows = within(screen.getByRole('list', { name: 'Proposed repairs' })).getAllByRole('button');
    expect(rows.map((r) => r.getAttribute('aria-label'))).toEqual([
      'Soft patch: d.jpg over 12 × 12 px, closes',
      'Halo: d.jpg over 12 × 12 px, 50 % stays',
    ]);
    fireEvent.click(rows[1]!);
    expect(opened).toEqual(['b']);
    fireEvent.click(screen.getByRole('button', { name: 'Keep the one that closes' }));
    expect(asked).toEqual([{ keep: ['p-a'] }]);
  });

  it('counts the frames that a place is merged of, and tells what is gone with another repair from what nothing helps', () => {
    const { shape } = strokeOf(0, [[70, 60]]);
    const parts = [1, 2].map((donor) => ({ donor, shape }));
    const merged = proposalOf('a', { operation: { ...strokeOf(0, [[70, 60]]), also: parts } });
    const rows = (): (string | null)[] =>
      within(screen.getByRole('list', { name: 'Proposed repairs' }))
        .getAllByRole('button')
        .map((r) => r.getAttribute('aria-label'));
    panel(proposingOf([merged, proposalOf('b', { operation: null, closes: false, rest: 0 })]));
    expect(rows()).toEqual([
      'Soft patch: merged of 3 frames over 12 × 12 px, closes',
      'Halo: with another repair, gone',
    ]);
    cleanup();
    panel(proposingOf([proposalOf('b', { operation: null, closes: false, rest: 1 })]));
    expect(rows()).toEqual(['Halo: no repair, no help']);
  });

  it('shows how far it is, and is away where nothing can be repaired', () => {
    const work: Work = {
      ...{ id: 'w', jobId: 'j1', kind: 'mend', status: 'running', progress: 0.5, error: null },
      message: 'repaired 1 of 2 findings',
    };
    panel(proposingOf([], work));
    expect(screen.getByText('Working out repairs: repaired 1 of 2 findings')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Cancel' })).toBeTruthy();
    cleanup();
    panel(proposingOf([]), mergeOf([findingOf('c', { donor: null, repairable: false })]));
    expect(screen.queryByRole('region')).toBeNull();
  });
});
