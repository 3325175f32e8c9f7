/**
 * @jest-environment jsdom
 */
// The bench's parts as people find them: by role and name.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { placeOperation } from '@blendrak/core/repair';
import type { Operation, Pin } from '@blendrak/contract';
import type { BenchMerge } from '../../../shared/queries';
import { findingOf, mergeOf, operationOf, strokeOf } from '../../../testing/merges';
import { bindCommands } from '../../../shared/commands/keys';
import { COMMANDS } from '../commands';
import { useBench } from '../store';
import { createSweep } from '../sweep/sweeping';
import { FindingCard } from './FindingCard';
import { FindingQueue } from './FindingQueue';
import { Overview } from './Overview';
import { ShortcutSheet } from './ShortcutSheet';

afterEach(cleanup);
// Pages of tests have no canvas to draw on.
beforeAll(() => void jest.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null));
afterAll(() => jest.restoreAllMocks());
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
    show(<FindingQueue merge={merge} inForce={[]} onOpen={(id) => opened.push(id)} />);
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

  it('of a merge in which nothing was found says so', () => {
    show(<FindingQueue merge={mergeOf([])} inForce={[]} onOpen={() => undefined} />);
    expect(screen.getByText(/found nothing to report/)).toBeTruthy();
  });

  it('of hundreds of findings holds only the rows that can be seen', () => {
    // Nothing has a size without a browser: this pane is 800 px high.
    const high = jest.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(800);
    const many = Array.from({ length: 500 }, (_, k) => findingOf(`f${k}`, { severity: 99 - Math.floor(k / 6) }));
    show(<FindingQueue merge={mergeOf(many)} inForce={[]} onOpen={() => undefined} />);
    const rows = screen.getAllByRole('listitem');
    expect(rows.length).toBeLessThan(30);
    expect([rows[0]!.getAttribute('aria-posinset'), rows[0]!.getAttribute('aria-setsize')]).toEqual(['1', '500']);
    expect(screen.getByText('500 to settle')).toBeTruthy();
    high.mockRestore();
  });

  it('shows each place as repaired so far, and loads only those anew that a stroke reaches', () => {
    const { container } = show(<FindingQueue merge={merge} inForce={[]} onOpen={() => undefined} />);
    expect(container.querySelector('img')!.getAttribute('src')).toMatch(/^\/iiif\/r-m1\/.*\?v=0$/);
    cleanup();
    const near = placeOperation({ id: 'x', ...strokeOf(1, [[70, 60]]) });
    const again = show(<FindingQueue merge={merge} inForce={[near]} onOpen={() => undefined} />);
    expect(again.container.querySelector('img')!.getAttribute('src')).toMatch(/\?v=[0-9a-f]{16}$/);
  });
});

describe('the card', () => {
  const folded: string[] = [];
  const fold = bindCommands({ card: COMMANDS['card']! }, { card: () => folded.push('card') }).card;
  const asked: unknown[] = [];
  const actions = {
    ask: (change: unknown) => `asked ${asked.push(change)}`,
    snap: (operationId: string, reachPx: number) => void asked.push([operationId, reachPx]),
    travelTo: (region: unknown) => void asked.push(region),
  };
  const viewing = { kind: 'screen' } as const;
  const proposing = {
    proposals: [],
    work: null,
    workOut: (order: unknown) => void asked.push(order),
    choose: () => undefined,
  };
  const rest = { fold, viewing, proposing, title: 'The merge', children: null };
  const next = bindCommands({ sweep: COMMANDS['sweep']! }, { sweep: () => undefined }).sweep;
  const overview = (merge: BenchMerge, operations: readonly Operation[] = [], pins: readonly Pin[] = []) => (
    <FindingCard merge={merge} finding={null} {...rest}>
      <Overview
        {...{ merge, operations, pins, actions, viewing, proposing }}
        onOpen={() => undefined}
        heldBack={{ unseen: 0, unsure: 0 }}
        sweeping={createSweep(merge)}
        nextUnseen={next}
      />
    </FindingCard>
  );
  beforeEach(() => {
    useBench.getState().layOut({ isCardOpen: true });
    asked.splice(0);
  });

  it('keeps the record of what was done, the last first: switched off, found again, taken out', () => {
    const operations = [
      operationOf('one', 1, { donor: 1 }),
      operationOf('two', 2, { donor: null, enabled: false }),
      operationOf('three', 3, { donor: 2, name: 'lower rim' }),
    ];
    show(overview(mergeOf([]), operations));
    const list = within(screen.getByRole('list', { name: 'Operations' }));
    expect(list.getAllByRole('button', { name: /^Go to/ }).map((b) => b.textContent)).toEqual([
      'lower rim12 × 12 px',
      'taken back12 × 12 px',
      'b.jpg12 × 12 px',
    ]);
    const switches = list.getAllByRole<HTMLInputElement>('switch');
    expect(switches.map((s) => s.checked)).toEqual([true, false, true]);
    fireEvent.click(switches[1]!);
    fireEvent.click(list.getByRole('button', { name: 'More of b.jpg' }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'Take it out' }));
    fireEvent.click(list.getByRole('button', { name: 'Go to lower rim' }));
    expect(asked).toEqual([
      { kind: 'patch', operationId: 'two', patch: { enabled: true } },
      { kind: 'remove', operationId: 'one' },
      { x: 14, y: 14, width: 12, height: 12 },
    ]);
    cleanup();
    show(overview(mergeOf([])));
    expect(screen.queryByRole('list', { name: 'Operations' })).toBeNull();
  });

  it('says how many of the open findings may be nothing, as sure as they are', () => {
    const [sure, unsure] = [findingOf('a', { confidence: 0.95 }), findingOf('b', { confidence: 0.6 })];
    show(overview(mergeOf([sure, unsure])));
    expect(screen.getByText('As sure as they are, about 0.5 of the 2 may be nothing.')).toBeTruthy();
    cleanup();
    show(overview(mergeOf([sure])));
    expect(screen.queryByText(/may be nothing/)).toBeNull();
  });

  it('says what was not carried over from the merge before, and why', () => {
    const left = [{ words: 'A stroke with c.jpg', why: 'c.jpg is no longer among the frames' }];
    show(overview({ ...mergeOf([]), carried: { taken: 3, left } }));
    const list = within(screen.getByRole('list', { name: 'Not carried over' }));
    expect(list.getAllByRole('listitem').map((l) => l.textContent)).toEqual([
      'A stroke with c.jpg: c.jpg is no longer among the frames.',
    ]);
    cleanup();
    show(overview({ ...mergeOf([]), carried: { taken: 3, left: [] } }));
    expect(screen.queryByRole('list', { name: 'Not carried over' })).toBeNull();
  });

  it('a mask is changed after it was drawn, laid to edges, and put back as it was made', () => {
    const grown = { growPx: 4, softenPx: 0, strength: 0.5, insideOut: null, snapped: null };
    show(overview(mergeOf([]), [operationOf('one', 1, { donor: 1, mask: grown })]));
    fireEvent.click(screen.getByRole('button', { name: 'More of b.jpg' }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'Change its mask …' }));
    const panel = within(screen.getByRole('dialog', { name: 'Mask of b.jpg' }));
    const slide = (name: string, value: number): void => {
      const slider = panel.getByRole('slider', { name });
      fireEvent.change(slider, { target: { value } });
    };
    slide('Grow or shrink', -7);
    slide('Strength', 80);
    fireEvent.click(panel.getByRole('switch', { name: 'Everywhere but here' }));
    slide('Edges are sought within', 20);
    fireEvent.click(panel.getByRole('button', { name: 'Lay it to edges' }));
    fireEvent.click(panel.getByRole('button', { name: 'As it was made' }));
    const patch = (mask: object | null): object => ({ kind: 'patch', operationId: 'one', patch: { mask } });
    const { width, height } = mergeOf([]);
    expect(asked).toEqual([
      patch({ ...grown, growPx: -7 }),
      patch({ ...grown, strength: 0.8 }),
      patch({ ...grown, insideOut: { x: 0, y: 0, width, height } }),
      ['one', 20],
      patch(null),
    ]);
  });

  it('a repair in parts grows and softens alone; doubled, an operation takes its mask along', () => {
    const mask = { growPx: 4, softenPx: 2, strength: 1, insideOut: null, snapped: null };
    const { shape } = strokeOf(2);
    show(overview(mergeOf([]), [operationOf('one', 1, { donor: 1, also: [{ donor: 2, shape }], mask })]));
    fireEvent.click(screen.getByRole('button', { name: 'More of 2 parts' }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'Double it' }));
    const [added, patched] = asked as { kind: string; operation?: object; operationId?: string }[];
    expect(added).toMatchObject({ kind: 'add', operation: { donor: 1, also: [{ donor: 2 }] } });
    expect(patched).toEqual({ kind: 'patch', operationId: 'asked 1', patch: { mask } });
    fireEvent.click(screen.getByRole('button', { name: 'More of 2 parts', hidden: true }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'Change its mask …' }));
    const panel = within(screen.getByRole('dialog', { name: 'Mask of 2 parts' }));
    expect(panel.getByRole<HTMLInputElement>('slider', { name: 'Grow or shrink' }).min).toBe('0');
    expect(panel.getByRole<HTMLInputElement>('switch').disabled).toBe(true);
    expect(panel.getByRole<HTMLButtonElement>('button', { name: 'Lay it to edges' }).disabled).toBe(true);
  });

  it('operations are named, and act earlier or later than others', () => {
    const operations = [1, 2, 4].map((order) => operationOf(`o${order}`, order, { donor: order - 1 }));
    show(overview(mergeOf([]), operations));
    const choose = (title: string, words: string): void => {
      fireEvent.click(screen.getByRole('button', { name: `More of ${title}` }));
      fireEvent.click(screen.getByRole('menuitem', { name: words }));
    };
    choose('d.jpg', 'Let it act earlier');
    choose('a.jpg', 'Let it act later');
    choose('b.jpg', 'Let it act earlier');
    choose('a.jpg', 'Name it …');
    fireEvent.change(screen.getByRole('textbox', { name: 'Name' }), { target: { value: ' rim ' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep the name' }));
    expect(asked).toEqual([
      { kind: 'patch', operationId: 'o4', patch: { order: 1.5 } },
      { kind: 'patch', operationId: 'o1', patch: { order: 3 } },
      { kind: 'patch', operationId: 'o2', patch: { order: 0 } },
      { kind: 'patch', operationId: 'o1', patch: { name: 'rim' } },
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'More of a.jpg' }));
    expect(screen.getByRole('menuitem', { name: 'Let it act earlier' }).getAttribute('aria-disabled')).toBe('true');
  });

  it('offers to fill a speck from around where no frame is without it, and only there', () => {
    const speck = { defect: 'dust', repairable: true } as const;
    const fill = { name: /^Fill it from around/ };
    const card = (donor: number | null): void => {
      const finding = findingOf('a', { ...speck, donor });
      show(<FindingCard merge={mergeOf([finding])} finding={finding} {...rest} />);
    };
    card(null);
    expect(screen.getByText('repairable')).toBeTruthy();
    expect(screen.getByRole('button', fill)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Paint with/ })).toBeNull();
    cleanup();
    card(1);
    expect(screen.queryByRole('button', fill)).toBeNull();
    expect(screen.getByRole('button', { name: /^Paint with/ })).toBeTruthy();
  });

  it('folds to a rail that still says what it is about', () => {
    const finding = findingOf('a');
    show(<FindingCard merge={mergeOf([finding])} finding={finding} {...rest} />);
    fireEvent.click(screen.getByRole('button', { name: 'Fold the card: Soft patch' }));
    expect(folded).toEqual(['card']);
    act(() => useBench.getState().layOut({ isCardOpen: false }));
    expect(screen.getByRole('button', { name: 'Open the card: Soft patch' }).getAttribute('aria-expanded')).toBe(
      'false',
    );
    expect(screen.queryByText(finding.cause)).toBeNull();
  });

  it('says what was looked for and what is left to the eye', () => {
    show(overview(mergeOf([])));
    expect(screen.getByText('Looked for: halo, soft patch, focus gap. Look yourself for: seam.')).toBeTruthy();
    cleanup();
    show(overview(mergeOf([], { lookedFor: [], leftToTheEye: [] })));
    expect(screen.getByText('This merge was not inspected.')).toBeTruthy();
  });

  it('of no finding tells how the merge stands', () => {
    const merge = mergeOf([
      findingOf('a'),
      findingOf('b', { severity: 71 }),
      findingOf('c', { defect: 'halo', severity: 20 }),
    ]);
    show(overview(merge));
    expect(screen.getByRole('heading', { name: '2 plain defects to repair' })).toBeTruthy();
    const kinds = within(screen.getByRole('list', { name: 'Open findings by defect' })).getAllByRole('listitem');
    expect(kinds.map((k) => k.textContent)).toEqual(['Soft patch2 · up to 71', 'Halo1 · up to 20']);
    expect(screen.getByText(/3 of 4 frames are shown; at most 0.30 px/)).toBeTruthy();
  });

  it('takes the donor in hand', () => {
    const finding = findingOf('a');
    show(<FindingCard merge={mergeOf([finding])} finding={finding} {...rest} />);
    fireEvent.click(screen.getByRole('button', { name: 'Paint with d.jpg (D)' }));
    expect(useBench.getState()).toMatchObject({ donor: 3, tool: 'paint' });
  });

  it('offers no donor where none repairs, nor for what is settled', () => {
    const lost = findingOf('a', { donor: null, repairable: false, defect: 'focus-gap' });
    const settled = findingOf('b', { decision: 'accepted', reason: 'meant so' });
    show(<FindingCard merge={mergeOf([lost, settled])} finding={lost} {...rest} />);
    expect(screen.queryByRole('button', { name: /^Paint with/ })).toBeNull();
    expect(screen.getByText('not repairable')).toBeTruthy();
    cleanup();
    show(<FindingCard merge={mergeOf([lost, settled])} finding={settled} {...rest} />);
    expect(screen.queryByRole('button', { name: /^Paint with/ })).toBeNull();
    expect(screen.getByText(/“meant so”/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Open again' })).toBeTruthy();
  });
});

it('the sheet lists every command with its key, and says once how looks are kept', () => {
  show(<ShortcutSheet open onClose={() => undefined} />);
  const sheet = within(screen.getByRole('dialog'));
  expect(sheet.getByText('Keep that look')).toBeTruthy();
  for (const { label, shown } of Object.values(COMMANDS).filter(({ id }) => !id.startsWith('look-'))) {
    expect(sheet.getByText(label)).toBeTruthy();
    expect(sheet.getByText(shown)).toBeTruthy();
  }
});
