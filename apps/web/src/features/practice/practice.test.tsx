/**
 * @jest-environment jsdom
 */
// Practice as a learner reads it: the answer in words, the marks with their names, and how one does.
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { LearnersMarkRecord, PracticeProgress, Solution, SolvedFault } from '@blendrak/contract';
import { MarkList } from './MarkList';
import { ProgressTable } from './ProgressTable';
import { faultWords, solutionWords } from './solutionWords';

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
  render(<ProgressTable progress={[progress]} places={[{ place: 'at the rim', shown: 4, found: 1 }]} />);
  const row = within(screen.getByRole('table', { name: 'Progress by defect' })).getByRole('row', { name: /^Halo/ });
  expect(within(row).getByText('6 of 8')).toBeTruthy();
  expect(within(row).getByRole('img', { name: 'Halo: d′ 2.4, 1.1 to 3.7' })).toBeTruthy();
  expect(within(row).getByText('a quarter faint')).toBeTruthy();
  expect(screen.getByText('Found by place: at the rim 1 of 4.')).toBeTruthy();
  cleanup();
  render(<ProgressTable progress={[]} places={[]} />);
  expect(screen.getByText(/Nothing has been solved yet/)).toBeTruthy();
});
