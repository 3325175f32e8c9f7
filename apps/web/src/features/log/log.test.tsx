/**
 * @jest-environment jsdom
 */
// The log as people read it: answers with intervals, the jobs behind them, lessons that are taken or refused.
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import type { Calibration, Lesson, Log, LogCell } from '@blendrak/contract';
import { fakeServer } from '../../testing/fakeServer';
import { summaryOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { kitOf } from '../../testing/plans';
import { FaultMatrix } from './FaultMatrix';
import { journalQuery } from './logApi';
import { Lessons } from './Lessons';
import { LogScreen } from './LogScreen';
import { answers, tells } from './logWords';
import { TimeTables } from './TimeTables';

afterEach(cleanup);
const show = (element: ReactElement) => render(<MemoryRouter>{element}</MemoryRouter>);

const cellOf = (part: Partial<LogCell> = {}): LogCell => ({
  ...{ defect: 'halo', jobs: 4, findings: 9, repaired: 7, reshot: 0, share: { low: 0.3, high: 0.85 } },
  jobIds: ['j1', 'gone'],
  ...part,
});
const logOf = (part: Partial<Log> = {}): Log => ({
  ...{ grouping: 'kind', months: [], inspected: 6, jobs: 6 },
  groups: [
    {
      name: 'focus stack',
      jobs: 6,
      cells: [cellOf(), cellOf({ defect: 'dust', jobs: 1, share: { low: 0.03, high: 0.56 } })],
    },
  ],
  ...part,
});

describe('bodies and lenses', () => {
  it('what the jobs tell is taken over by a click, and then said to be in the kit', async () => {
    const told = (isTaken: boolean): Calibration => ({
      ...{ camera: 'K-1', lens: '90 mm', what: 'breathing', words: 'change of scale with focus', value: -7.4 },
      ...{ unit: '% per dioptre', spread: null, jobs: [{ id: 'j1', name: 'Gears' }], latest: '2026-11-02', isTaken },
    });
    let isTaken = false;
    const server = fakeServer({
      'GET /api/log/calibrations': () => [told(isTaken)],
      'POST /api/log/calibrations/taken': () => {
        isTaken = true;
        return kitOf();
      },
    });
    showPage(<LogScreen />, '/log', '/log?part=lenses');
    fireEvent.click(await screen.findByRole('button', { name: 'Take over breathing: change of scale with focus' }));
    expect(await screen.findByText('in the kit')).toBeTruthy();
    expect(server.sent('POST').map((r) => r.body)).toEqual([
      { camera: 'K-1', lens: '90 mm', what: 'breathing', words: 'change of scale with focus' },
    ]);
    server.restore();
  });
});

describe('what goes wrong', () => {
  it('is answered with what it says of other jobs, and with few jobs says that it cannot tell', () => {
    expect(answers(logOf())).toEqual([
      'Focus stack: most often halo, in 4 of 6 jobs; of all such jobs 30 to 85 %. 7 of 9 were repaired.',
    ]);
    expect(answers(logOf({ inspected: 2 })).at(-1)).toContain('With 2 jobs it cannot tell what is usual');
    expect(answers(logOf({ inspected: 0, groups: [] }))).toEqual([
      'No job has been inspected yet: the log fills by itself.',
    ]);
    expect(answers(logOf({ inspected: 0, groups: [], jobs: 0 }))).toEqual(['There are no jobs yet.']);
    expect([tells(cellOf()), tells(cellOf({ share: { low: 0.1, high: 0.9 } }))]).toEqual([true, false]);
  });

  it('leads from a cell to the jobs behind it, also where some are gone', () => {
    show(<FaultMatrix log={logOf()} jobs={[summaryOf({ id: 'j1', name: 'Gears' })]} />);
    fireEvent.click(screen.getByRole('button', { name: /^focus stack, Halo: 4 of 6 jobs/ }));
    const behind = within(screen.getByRole('region', { name: 'Jobs behind it' }));
    expect(behind.getByRole('link', { name: 'Gears' }).getAttribute('href')).toBe('/jobs/j1/bench');
    expect(behind.getByText('a job that was removed')).toBeTruthy();
    expect(behind.getByText(/9 findings, 7 repaired/)).toBeTruthy();
  });
});

describe('lessons', () => {
  const lesson = (state: Lesson['state']): Lesson => ({
    ...{ id: 'l', kind: 'focus-stack', defect: 'focus-gap', change: { field: 'spare', add: 1 }, state },
    words: 'The series ended before the subject did, in 1 of 2 jobs.',
    advice: 'Shoot one slice more.',
    jobs: [{ id: 'j1', name: 'Gears' }],
  });

  it('are taken or refused, and thought about again', () => {
    const chosen: unknown[] = [];
    const onChoose = (id: string, state: string): void => void chosen.push([id, state]);
    show(<Lessons lessons={[lesson('open')]} onChoose={onChoose} />);
    fireEvent.click(screen.getByRole('button', { name: 'Take it' }));
    fireEvent.click(screen.getByRole('button', { name: 'Refuse' }));
    cleanup();
    show(<Lessons lessons={[lesson('refused')]} onChoose={onChoose} />);
    fireEvent.click(screen.getByRole('button', { name: 'Think again' }));
    expect(chosen).toEqual([
      ['l', 'taken'],
      ['l', 'refused'],
      ['l', 'open'],
    ]);
  });

  it('of no jobs are none, in words', () => {
    show(<Lessons lessons={[]} onChoose={() => undefined} />);
    expect(screen.getByText(/No job has taught anything yet/)).toBeTruthy();
  });
});

it('what is looked for in the journal is an address', () => {
  expect(journalQuery({ text: ' halo & rim ', kind: 'decided' })).toBe('text=halo+%26+rim&kind=decided');
  expect(journalQuery({ text: '', kind: 'all' })).toBe('');
});

describe('where the time goes', () => {
  it('is told by stage and by defect, in hours, minutes and seconds', () => {
    show(
      <TimeTables
        stages={[
          { stage: 'bench', seconds: 7200, jobs: 3 },
          { stage: 'finish', seconds: 60, jobs: 1 },
        ]}
        defects={[{ defect: 'halo', seconds: 600, jobs: 2 }]}
      />,
    );
    const stages = within(screen.getByRole('table', { name: 'Time by stage' }));
    expect([stages.getByText('2.0 h'), stages.getByText('60 s')]).toHaveLength(2);
    expect(within(screen.getByRole('table', { name: 'Time by defect' })).getByText('10 min')).toBeTruthy();
    cleanup();
    show(<TimeTables stages={[]} defects={[]} />);
    expect(screen.getByText(/Nobody has worked on a job yet/)).toBeTruthy();
  });
});
