/**
 * @jest-environment jsdom
 */
// The bench's parts as people find them: by role and name.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { findingOf, mergeOf } from '../../../testing/merges';
import { useCommandKeys } from '../../../shared/commands/useCommandKeys';
import { COMMANDS, type CommandId } from '../commands';
import { useBench } from '../store';
import { FindingCard } from './FindingCard';
import { FindingQueue } from './FindingQueue';
import { ShortcutSheet } from './ShortcutSheet';

afterEach(cleanup);
const show = (element: ReactElement) =>
  render(<QueryClientProvider client={new QueryClient()}>{element}</QueryClientProvider>);

describe('the queue', () => {
  const merge = mergeOf([
    findingOf('a', { defect: 'halo', severity: 90 }),
    findingOf('b', { severity: 40 }),
    findingOf('c', { decision: 'accepted' }),
  ]);

  it('counts what is open, says what was decided, and opens what is chosen', () => {
    const opened: string[] = [];
    show(<FindingQueue merge={merge} onOpen={(id) => opened.push(id)} />);
    const queue = within(screen.getByRole('navigation', { name: 'Findings' }));
    expect(queue.getByText('2 to settle')).toBeTruthy();
    expect(queue.getAllByRole('button').map((b) => b.getAttribute('aria-label'))).toEqual([
      'Halo, severity 90',
      'Soft patch, severity 40',
      'Soft patch, severity 62, accepted',
    ]);
    fireEvent.click(queue.getByRole('button', { name: 'Soft patch, severity 40' }));
    expect(opened).toEqual(['b']);
  });

  it('says what was looked for and what is left to the eye', () => {
    const { rerender } = render(<FindingQueue merge={mergeOf([])} onOpen={() => undefined} />);
    expect(screen.getByText('Looked for: halo, soft patch, focus gap. Look yourself for: seam.')).toBeTruthy();
    expect(screen.getByText(/found nothing to report/)).toBeTruthy();
    rerender(<FindingQueue merge={mergeOf([], { lookedFor: [], leftToTheEye: [] })} onOpen={() => undefined} />);
    expect(screen.getByText('This merge was not inspected.')).toBeTruthy();
  });
});

describe('the card', () => {
  it('of no finding tells how the merge stands', () => {
    const merge = mergeOf([
      findingOf('a'),
      findingOf('b', { severity: 71 }),
      findingOf('c', { defect: 'halo', severity: 20 }),
    ]);
    show(<FindingCard merge={merge} finding={null} />);
    expect(screen.getByRole('heading', { name: '2 plain defects to repair' })).toBeTruthy();
    const kinds = within(screen.getByRole('list', { name: 'Open findings by defect' })).getAllByRole('listitem');
    expect(kinds.map((k) => k.textContent)).toEqual(['Soft patch2 · up to 71', 'Halo1 · up to 20']);
    expect(screen.getByText(/3 of 4 frames are shown; at most 0.30 px/)).toBeTruthy();
  });

  it('takes the donor in hand', () => {
    const finding = findingOf('a');
    show(<FindingCard merge={mergeOf([finding])} finding={finding} />);
    fireEvent.click(screen.getByRole('button', { name: 'Paint with d.jpg (D)' }));
    expect(useBench.getState().donor).toBe(3);
  });

  it('offers no donor where none repairs, nor for what is settled', () => {
    const lost = findingOf('a', { donor: null, repairable: false, defect: 'focus-gap' });
    const settled = findingOf('b', { decision: 'accepted', reason: 'meant so' });
    show(<FindingCard merge={mergeOf([lost, settled])} finding={lost} />);
    expect(screen.queryByRole('button', { name: /^Paint with/ })).toBeNull();
    expect(screen.getByText('not repairable')).toBeTruthy();
    cleanup();
    show(<FindingCard merge={mergeOf([lost, settled])} finding={settled} />);
    expect(screen.queryByRole('button', { name: /^Paint with/ })).toBeNull();
    expect(screen.getByText(/“meant so”/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Open again' })).toBeTruthy();
  });
});

it('the sheet lists every command with its key', () => {
  show(<ShortcutSheet open onClose={() => undefined} />);
  const sheet = within(screen.getByRole('dialog'));
  for (const { label, shown } of Object.values(COMMANDS)) {
    expect(sheet.getByText(label)).toBeTruthy();
    expect(sheet.getByText(shown)).toBeTruthy();
  }
});

describe('keys', () => {
  const calls: string[] = [];
  const actions = (Object.keys(COMMANDS) as CommandId[]).reduce(
    (all, id) => ({ ...all, [id]: (pressed: boolean) => void calls.push(`${id} ${pressed}`) }),
    {} as Record<CommandId, (pressed: boolean) => void>,
  );
  function Screen({ enabled = true }: { readonly enabled?: boolean }) {
    useCommandKeys(COMMANDS, actions, enabled);
    return (
      <>
        <input type="text" aria-label="Reason" />
        <input type="range" aria-label="Size" />
        <button type="button">Patch</button>
      </>
    );
  }
  beforeEach(() => calls.splice(0));

  it('work while a button or a slider has the focus, and not while text is typed', () => {
    render(<Screen />);
    fireEvent.keyDown(screen.getByRole('button'), { key: 'n' });
    fireEvent.keyDown(screen.getByRole('slider'), { key: 'm' });
    fireEvent.keyDown(screen.getByRole('textbox'), { key: 'u' });
    expect(calls).toEqual(['next true', 'marks true']);
  });

  it('held ones are let go once: on release, when the window loses the focus, when something lies over the screen', () => {
    const { rerender } = render(<Screen />);
    const down = (): boolean => fireEvent.keyDown(document.body, { key: 'q', code: 'KeyQ' });
    down();
    fireEvent.keyDown(document.body, { key: 'q', code: 'KeyQ', repeat: true });
    fireEvent.keyUp(document.body, { key: 'Q', code: 'KeyQ', shiftKey: true });
    down();
    fireEvent.blur(window);
    fireEvent.keyUp(document.body, { key: 'q', code: 'KeyQ' });
    down();
    rerender(<Screen enabled={false} />);
    down();
    expect(calls).toEqual([
      'before true',
      'before false',
      'before true',
      'before false',
      'before true',
      'before false',
    ]);
  });
});
