/**
 * @jest-environment jsdom
 */
// Practice as a learner reads it: the answer in words, the marks with their names, and how one does.
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import {
  exerciseOrderSchema,
  type Exercise,
  type LearnersMarkRecord,
  type PracticeProgress,
  type ScoredRepair,
  type Solution,
  type SolvedFault,
} from '@blendrak/contract';
import { fakeServer, Refusal } from '../../testing/fakeServer';
import { showPage } from '../../testing/page';
import { MarkList } from './MarkList';
import { ProgressTable } from './ProgressTable';
import { RepairIt } from './RepairIt';
import { faultWords, solutionWords } from './solutionWords';
import { WhichOfTwo } from './WhichOfTwo';

afterEach(cleanup);

const faultOf = (part: Partial<SolvedFault> = {}): SolvedFault => ({
  ...{ defect: 'halo', rows: [], isPlain: true, place: 'between', donors: ['d.jpg', 'e.jpg'], mark: 0 },
  ...{ isNamed: true, isDonorRight: null, inspection: 'halo' },
  ...part,
});
const markOf = (part: Partial<LearnersMarkRecord> = {}): LearnersMarkRecord => ({
  ...{ polygon: [[0, 0], [9, 0], [9, 9]], defect: 'halo', donor: null }, // prettier-ignore
  ...part,
});
const solution: Solution = {
  ...{ pairs: [], repair: null },
  ...{ marks: [markOf(), markOf({ defect: 'seam' })], tookS: 61, invented: [1], cellPx: 4 },
  faults: [faultOf(), faultOf({ mark: null, isNamed: false, inspection: null })],
};

describe('the answer', () => {
  it('counts what was found, named and invented, beside the inspection', () => {
    expect(solutionWords(solution)).toBe('1 of 2 found, 1 named rightly, 1 invented, in 61 s. The inspection found 1.');
    expect(solutionWords({ ...solution, invented: [], tookS: 240 })).toContain('nothing invented, in 4.0 min');
  });

  it.each([
    [faultOf(), 'found'],
    [faultOf({ isDonorRight: true }), 'found; the donor was right'],
    [faultOf({ isDonorRight: false }), 'found; to be repaired from d.jpg, e.jpg'],
    [faultOf({ mark: 1, isNamed: false, inspection: 'seam' }), 'found, called seam; the inspection calls it seam'],
    [faultOf({ mark: null, isNamed: false, inspection: null }), 'missed; the inspection missed it'],
  ])('says of each defect what came of it: %#', (fault, words) => {
    expect(faultWords(fault, solution)).toBe(words);
  });
});

it('marks are named, given a donor and taken away, each by its number', () => {
  const asked: unknown[] = [];
  render(
    <MarkList
      marks={[markOf(), markOf({ defect: 'ghost', donor: 'b.jpg' })]}
      defects={['halo', 'ghost', 'seam']}
      frames={['a.jpg', 'b.jpg']}
      chosen={1}
      onChoose={() => undefined}
      onChange={(k, part) => asked.push([k, part])}
      onRemove={(k) => asked.push(k)}
    />,
  );
  const list = within(screen.getByRole('list', { name: 'Your marks' }));
  fireEvent.mouseDown(list.getByRole('combobox', { name: 'Name of 1' }));
  fireEvent.click(screen.getByRole('option', { name: 'Seam' }));
  fireEvent.mouseDown(list.getByRole('combobox', { name: 'Donor of 2' }));
  fireEvent.click(screen.getByRole('option', { name: 'no donor' }));
  fireEvent.click(list.getByRole('button', { name: 'Take mark 2 away' }));
  expect(asked).toEqual([[0, { defect: 'seam' }], [1, { donor: null }], 1]);
});

it('how one does is told with its interval, and nothing is told before anything was solved', () => {
  const progress: PracticeProgress = {
    ...{ defect: 'halo', shown: 8, found: 6, named: 5, invented: 1, dPrime: 2.4, low: 1.1, high: 3.7, level: 1 },
    course: [
      { at: '2026-11-10', dPrime: 1 },
      { at: '2026-11-11', dPrime: 2.4 },
    ],
  };
  render(
    <ProgressTable
      pairs={[{ defect: 'seam', shown: 10, right: 9, low: 0.6, high: 0.98 }]}
      progress={[progress]}
      places={[{ place: 'at the rim', shown: 4, found: 1 }]}
    />,
  );
  const row = within(screen.getByRole('table', { name: 'Progress by defect' })).getByRole('row', { name: /^Halo/ });
  expect(within(row).getByText('6 of 8')).toBeTruthy();
  expect(within(row).getByRole('img', { name: 'Halo: d′ 2.4, 1.1 to 3.7' })).toBeTruthy();
  expect(within(row).getByText('a quarter faint')).toBeTruthy();
  expect(screen.getByText('Found by place: at the rim 1 of 4.')).toBeTruthy();
  const pairs = within(screen.getByRole('table', { name: 'Which of two, by defect' }));
  expect(pairs.getByText('60 to 98 %')).toBeTruthy();
  cleanup();
  render(<ProgressTable progress={[]} places={[]} pairs={[]} />);
  expect(screen.getByText(/Nothing has been solved yet/)).toBeTruthy();
});

describe('which of two', () => {
  const order = exerciseOrderSchema.parse({ task: 'which', kind: 'bracket' });
  const exerciseOf = (part: Partial<Exercise>): Exercise => ({
    ...{
      id: 'e1',
      order,
      state: 'ready',
      progress: 1,
      message: '',
      mergeId: 'm',
      createdAt: '2026-11-10',
      solution: null,
    },
    ...part,
  });

  it('asks pair by pair, gives the answer with the last one, and shows all of them with what was right', async () => {
    const pair = (isRight: boolean, side: 0 | 1): Solution['pairs'][number] => ({
      ...{ defect: 'seam', isPlain: true, side, isRight },
    });
    const pairs = [pair(true, 1), pair(false, 0)];
    const server = fakeServer({
      'GET /api/practice/exercises/e1/pairs': [
        { width: 300, height: 280 },
        { width: 300, height: 280 },
      ],
      'POST /api/practice/exercises/e1/pairs': exerciseOf({ state: 'answered', solution: { ...solution, pairs } }),
      'POST /api/practice/exercises/e1/begin': null,
    });
    showPage(<WhichOfTwo exercise={exerciseOf({})} />, '/practice/:exerciseId', '/practice/e1');
    expect(await screen.findByText('Which of the two is flawed? 1 of 2')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'The right one is flawed' }));
    expect(screen.getByText('Which of the two is flawed? 2 of 2')).toBeTruthy();
    expect(screen.getByAltText('Right picture').getAttribute('src')).toBe('/api/practice/exercises/e1/pairs/1/1.png');
    fireEvent.click(screen.getByRole('button', { name: 'The right one is flawed' }));
    await waitFor(() => expect(server.sent('POST').at(-1)?.body).toMatchObject({ choices: [1, 1] }));
    cleanup();
    showPage(
      <WhichOfTwo exercise={exerciseOf({ state: 'answered', solution: { ...solution, pairs } })} />,
      '/practice/:exerciseId',
      '/practice/e1',
    );
    expect(screen.getByText(/^1 of 2 told rightly/)).toBeTruthy();
    expect(within(screen.getByRole('region', { name: 'Pair 2' })).getByText(/in the left one: not told/)).toBeTruthy();
    server.restore();
  });
});

it('which of two says when nothing could be hidden', async () => {
  const order = exerciseOrderSchema.parse({ task: 'which', kind: 'panorama', defects: ['ghost'] });
  const server = fakeServer({
    'GET /api/practice/exercises/e2/pairs': [],
    'POST /api/practice/exercises/e2/begin': null,
  });
  const exercise: Exercise = {
    ...{ id: 'e2', order, state: 'ready', progress: 1, message: '', mergeId: 'm', createdAt: '2026-11-10' },
    solution: null,
  };
  showPage(<WhichOfTwo exercise={exercise} />, '/practice/:exerciseId', '/practice/e2');
  expect(await screen.findByText(/Nothing could be hidden in this one/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'The left one is flawed' })).toBeNull();
  server.restore();
});

describe('repair it', () => {
  it('says why it cannot be scored yet, and then by how much each error fell', async () => {
    const server = fakeServer({
      'POST /api/practice/exercises/e1/repair': new Refusal(409, 'Nothing was repaired yet.'),
    });
    showPage(<RepairIt exerciseId="e1" repair={null} />, '/practice/:exerciseId', '/practice/e1');
    expect(screen.getByRole('link', { name: 'Open it on the bench' }).getAttribute('href')).toBe('/jobs/e1/bench');
    fireEvent.click(screen.getByRole('button', { name: 'Score my repair' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Nothing was repaired yet.');
    cleanup();
    const faults: ScoredRepair['faults'] = [
      { defect: 'halo', fall: 0.82, isMended: true },
      { defect: 'seam', fall: -0.1, isMended: false },
    ];
    showPage(
      <RepairIt exerciseId="e1" repair={{ at: '2026-11-10', faults, damage: 0.2 }} />,
      '/practice/:id',
      '/practice/e1',
    );
    const table = within(screen.getByRole('table', { name: 'Own repair' }));
    expect([table.getByText('82 %'), table.getByText('grew by 10 %')]).toHaveLength(2);
    expect(
      screen.getByText(
        '1 of 2 mended (their error fell by 70 % or more); the rest was changed by 0.20 ΔE00 on average.',
      ),
    ).toBeTruthy();
    server.restore();
  });
});
