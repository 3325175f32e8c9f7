/**
 * @jest-environment jsdom
 */
// Long work as people see it go on: what it does, and what a first look shows before the whole is known.
import { cleanup, render, screen } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { FirstLook, Work } from '@blendrak/contract';
import { workOf } from '../testing/jobs';
import { WorkProgress } from './WorkProgress';

afterEach(cleanup);

const bbox = (x: number, y: number) => ({ x, y, width: 200, height: 100 });
const FIRST: FirstLook = {
  ...{ pictureId: 'p7', width: 4000, height: 2000 },
  findings: [
    { defect: 'halo', bbox: bbox(1900, 950), severity: 60 },
    { defect: 'halo', bbox: bbox(0, 0), severity: 40 },
    { defect: 'ghost', bbox: bbox(3000, 1000), severity: 30 },
  ],
};

const show = (work: Work, brief = false) =>
  render(
    <SnackbarProvider>
      <WorkProgress work={work} brief={brief} />
    </SnackbarProvider>,
  );

it('a first look tells how many of what, and marks them where they lie', () => {
  show(workOf({ first: FIRST }));
  const plan = screen.getByRole('region', { name: 'First look' });
  expect(plan.textContent).toContain('halo 2, ghost 1');
  const marks = screen.getAllByTitle('Halo');
  // Its middle is that of the plan: 260 × 130 px, a sign of 14 px.
  expect(getComputedStyle(marks[0]!).left).toBe('123px');
  expect(getComputedStyle(marks[0]!).top).toBe('58px');
  expect(plan.querySelector('img')!.src).toContain('p-p7');
});

it('that nothing was seen yet is said as well', () => {
  show(workOf({ first: { ...FIRST, pictureId: null, findings: [] } }));
  expect(screen.getByRole('region', { name: 'First look' }).textContent).toMatch(/shows nothing; the whole/);
});

it.each([
  ['before there is one', workOf(), false],
  ['in a list', workOf({ first: FIRST }), true],
  ['once the work ended', workOf({ first: FIRST, status: 'failed', error: 'no' }), false],
] as const)('there is no plan %s', (_when, work, brief) => {
  show(work, brief);
  expect(screen.queryByRole('region', { name: 'First look' })).toBeNull();
});
