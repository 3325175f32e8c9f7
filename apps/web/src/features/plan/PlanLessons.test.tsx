/**
 * @jest-environment jsdom
 */
// Lessons of earlier jobs in a plan: what is taken changes the plan, and what it has already is not offered again.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { Lesson, PlanSheetRecord } from '@blendrak/contract';
import { planFocusStack } from '@blendrak/core/plan';
import { fakeServer, type FakeServer } from '../../testing/fakeServer';
import { planOf } from '../../testing/plans';
import { PlanLessons, taught } from './PlanLessons';

const lessonOf = (part: Partial<Lesson> = {}): Lesson => ({
  ...{ id: 'focus-stack:beyond-the-end', kind: 'focus-stack', defect: 'focus-gap', state: 'open', jobs: [] },
  words: 'The series ended before the subject did, in 1 of 2 jobs.',
  advice: 'Shoot one slice more beyond each end.',
  change: { field: 'spare', add: 1 },
  ...part,
});

let server: FakeServer;
const { sheet } = planOf('focus-stack');
const changed: PlanSheetRecord[] = [];
const show = (lessons: readonly Lesson[], of: PlanSheetRecord = sheet): void => {
  server = fakeServer({
    'GET /api/log/lessons': lessons,
    'PUT /api/log/lessons/focus-stack%3Abeyond-the-end': lessons,
  });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <PlanLessons sheet={of} onChange={(next) => changed.push(next)} />
    </QueryClientProvider>,
  );
};
afterEach(() => {
  cleanup();
  server.restore();
  changed.splice(0);
});

it('a plan made after a job with a missing last slice has one slice more once the lesson is taken', async () => {
  show([lessonOf(), lessonOf({ id: 'p', kind: 'panorama', words: 'of another kind' })]);
  fireEvent.click(await screen.findByRole('button', { name: 'Take it into this plan' }));
  expect(screen.queryByText('of another kind')).toBeNull();
  const [next] = changed;
  const framesOf = (s: PlanSheetRecord): number =>
    s.kind === 'focus-stack' ? (planFocusStack(s.request).plan?.slices.length ?? 0) : 0;
  expect(framesOf(next!)).toBeGreaterThan(framesOf(sheet));
  await waitFor(() => expect(server.sent('PUT').map((a) => a.body)).toEqual([{ state: 'taken' }]));
});

it('what the plan has is said to be there; what was refused is not shown, and what no plan can change has no button', async () => {
  const overlap = lessonOf({ id: 'o', change: { field: 'overlap', atLeast: 0.01 }, words: 'an overlap that it has' });
  const fixed = lessonOf({ id: 'd', change: null, words: 'a speck' });
  show([overlap, fixed, lessonOf({ id: 'r', state: 'refused', words: 'refused once' })]);
  await screen.findByText('an overlap that it has');
  expect(screen.getByText('This plan has it.')).toBeTruthy();
  expect(screen.getByText('a speck')).toBeTruthy();
  expect(screen.queryByText('refused once')).toBeNull();
  expect(screen.queryByRole('button')).toBeNull();
});

it('a lesson changes what plans of its kind have, and leaves others as they are', () => {
  const panorama = planOf('panorama').sheet;
  expect(taught(panorama, { change: { field: 'spare', add: 1 } })).toBe(panorama);
  const wider = taught(panorama, { change: { field: 'overlap', atLeast: 0.6 } });
  expect(wider.kind === 'panorama' && wider.request.overlap).toBe(0.6);
  const bracket = planOf('bracket').sheet;
  const careful = taught(bracket, { change: { field: 'usableEv', add: -1 } });
  expect(careful.kind === 'bracket' && bracket.kind === 'bracket' && careful.request.usableEv).toBe(
    bracket.kind === 'bracket' ? bracket.request.usableEv - 1 : 0,
  );
  expect(taught(sheet, { change: null })).toBe(sheet);
});
