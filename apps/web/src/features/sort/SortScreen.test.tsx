/**
 * @jest-environment jsdom
 */
// A card: its sets with their checks, edited by buttons and keys, written in order, made into jobs.
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { cardSchema, type Card, type CardSet, type CardSorting } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { summaryOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { SortScreen } from './SortScreen';

let server: FakeServer;
afterEach(() => {
  cleanup();
  server.restore();
});

const setOf = (id: string, files: string[], part: Partial<CardSet> = {}): CardSet => ({
  ...{ id, kind: 'focus-stack', files, labels: {}, leftOut: [], why: 'one view, sharpness wanders' },
  ...{ confidence: 0.9, nested: [], checks: [], overlaps: [], jobId: null },
  ...part,
});
const check = (file: string, name: string, spoils: boolean) => ({
  ...{ file, check: name, value: 1.2, limit: 0.5, unit: 'EV', spoils, meaning: 'light changed' },
});

function cardOf(sorting: CardSorting | null): Card {
  const ids = ['f1', 'f2', 'f3', 'f4', 'f5', 'f6'];
  return cardSchema.parse({
    summary: {
      id: 'k1',
      name: 'Morning',
      createdAt: '2026-11-02',
      files: 6,
      sets: sorting?.sets.length ?? 0,
      work: null,
    },
    files: ids.map((id) => ({
      ...{ id, fileName: `${id}.jpg`, sizeBytes: 1000, looked: true, exif: null },
      error: id === 'f6' ? 'f6.jpg: the file ends early.' : null,
    })),
    sorting,
  });
}

const usual = (): CardSorting => ({
  sets: [
    setOf('s1', ['f1', 'f2'], { overlaps: [0.42] }),
    setOf('s2', ['f3', 'f4'], { kind: 'bracket', checks: [check('f4', 'white-balance', true) as never] }),
  ],
  separators: ['f5'],
  unassigned: ['f6'],
});

async function open(sorting: CardSorting | null = usual()): Promise<void> {
  server = fakeServer({
    'GET /api/cards/k1': cardOf(sorting),
    'PUT /api/cards/k1/sorting': ({ body }: { body: unknown }) => cardOf(body as CardSorting),
  });
  showPage(<SortScreen />, '/sort/:cardId', '/sort/k1');
  await screen.findByText('Morning');
}

const section = (name: string) => within(screen.getByLabelText(name));
const written = (): CardSorting => server.sent('PUT').at(-1)!.body as CardSorting;
const press = (key: string, more: object = {}): void =>
  void act(() => void fireEvent.keyDown(document.activeElement ?? document.body, { key, ...more }));
const choose = (name: RegExp): void => act(() => screen.getByLabelText(name).focus());

it('shows each set with what is wrong in it, separators and the rest apart', async () => {
  await open();
  expect(section('Focus stack, 2 frames').getByText(/neighbours share 42 %/)).toBeTruthy();
  const bracket = section('Bracket, 2 frames');
  expect(bracket.getByText(/1 frame spoils the set/)).toBeTruthy();
  expect(bracket.getByLabelText('f4.jpg, white balance')).toBeTruthy();
  expect(section('Separators, 1 frame').getByLabelText('f5.jpg')).toBeTruthy();
  expect(section('In no set, 1 frame').getByLabelText('f6.jpg, cannot be read')).toBeTruthy();
});

it('says while there is nothing yet whether it looks or waits to be asked', async () => {
  await open(null);
  expect(screen.getByText('Not sorted yet.')).toBeTruthy();
});

it('the chosen frame tells its checks, and is left out or kept', async () => {
  await open();
  choose(/^f4\.jpg/);
  const panel = section('Frame');
  expect(panel.getByText('white balance: 1.2 EV')).toBeTruthy();
  expect(panel.getByText('The file names no settings.')).toBeTruthy();
  fireEvent.click(panel.getByText('Leave out of the set'));
  await waitFor(() => expect(written().sets[1]!.leftOut).toEqual(['f4']));
  expect(section('Bracket, 2 frames').getByText('1 of 2 frames')).toBeTruthy();
  fireEvent.click(panel.getByText('Keep in the set'));
  await waitFor(() => expect(written().sets[1]!.leftOut).toEqual([]));
});

describe('by keys', () => {
  it('arrows walk through all rows; with Shift they carry the frame to the next row', async () => {
    await open();
    choose(/^f2\.jpg/);
    press('ArrowRight');
    expect(document.activeElement!.id).toBe('file-f3');
    press('ArrowDown');
    expect(document.activeElement!.id).toBe('file-f5');
    press('ArrowUp');
    press('ArrowUp');
    expect(document.activeElement!.id).toBe('file-f1');
    press('ArrowDown', { shiftKey: true });
    await waitFor(() => expect(written().sets.map((s) => s.files)).toEqual([['f2'], ['f3', 'f4', 'f1']]));
  });

  it('O leaves out, S splits, N makes a new set, Z takes each back in turn', async () => {
    await open();
    choose(/^f4\.jpg/);
    press('o');
    await waitFor(() => expect(written().sets[1]!.leftOut).toEqual(['f4']));
    press('s');
    await waitFor(() => expect(written().sets.map((s) => s.files)).toEqual([['f1', 'f2'], ['f3'], ['f4']]));
    choose(/^f5\.jpg/);
    press('n');
    await waitFor(() => expect(written().separators).toEqual([]));
    expect(written().sets).toHaveLength(4);
    for (let k = 0; k < 3; k++) press('z');
    await waitFor(() => expect(server.sent('PUT')).toHaveLength(6));
    expect(written()).toEqual(usual());
  });
});

it('a set is turned round, changes its kind, and joins the one above', async () => {
  await open();
  const bracket = section('Bracket, 2 frames');
  fireEvent.click(bracket.getByText('Turn order'));
  await waitFor(() => expect(written().sets[1]!.files).toEqual(['f4', 'f3']));
  expect(section('Focus stack, 2 frames').queryByText('Join to the one above')).toBeNull();
  fireEvent.click(bracket.getByText('Join to the one above'));
  await waitFor(() => expect(written().sets.map((s) => s.files)).toEqual([['f1', 'f2', 'f4', 'f3']]));
});

it('a change that is refused is said, and what the server has comes back', async () => {
  await open();
  server.answer('PUT /api/cards/k1/sorting', new Refusal(409, 'This set has become a job: take it apart there.'));
  fireEvent.click(section('Bracket, 2 frames').getByText('Join to the one above'));
  expect(await screen.findByText('This set has become a job: take it apart there.')).toBeTruthy();
  expect(await screen.findByLabelText('Bracket, 2 frames')).toBeTruthy();
});

it('a set is made into a job once its changes are written', async () => {
  await open();
  let wrote = false;
  server.answer('PUT /api/cards/k1/sorting', ({ body }: { body: unknown }) => {
    wrote = true;
    return cardOf(body as CardSorting);
  });
  let before: boolean | null = null;
  server.answer('POST /api/cards/k1/sets/s2/job', () => {
    before = wrote;
    return summaryOf({ id: 'made' });
  });
  fireEvent.click(section('Bracket, 2 frames').getByText('Turn order'));
  fireEvent.click(section('Bracket, 2 frames').getByText('Make a job'));
  await waitFor(() => expect(before).toBe(true));
});
