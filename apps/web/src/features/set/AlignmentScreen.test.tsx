/**
 * @jest-environment jsdom
 */
// How frames lie on each other: in words, in a table, as a map, and aligned in another way.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Merge, MergeFrame } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { jobOf } from '../../testing/jobs';
import { describedMergeOf, mergeOf, stackFacts } from '../../testing/merges';
import { showPage } from '../../testing/page';
import { AlignmentScreen } from './AlignmentScreen';

let server: FakeServer;
beforeAll(() => {
  // Charts ask for their size, once and whenever it changes: here it never does.
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  jest.spyOn(HTMLElement.prototype, 'getBoundingClientRect').mockReturnValue(new DOMRect(0, 0, 300, 120));
});
afterEach(() => {
  cleanup();
  server.restore();
});

async function open(part: Partial<Merge> = {}): Promise<void> {
  const merge = describedMergeOf(part);
  const kind = merge.kind;
  server = fakeServer({
    'GET /api/jobs/j1': jobOf({ kind, mergeId: 'm1' }),
    'GET /api/merges/m1': merge,
    'POST /api/jobs/j1/process': jobOf({ kind, mergeId: 'm1' }),
  });
  showPage(<AlignmentScreen />, '/jobs/:jobId/alignment', '/jobs/j1/alignment');
  await screen.findByText(/, aligned$/);
}
const frames = (change: (frame: MergeFrame, k: number) => MergeFrame): MergeFrame[] => mergeOf([]).frames.map(change);
const choose = (label: string, words: string): void => {
  fireEvent.mouseDown(screen.getByLabelText(label));
  fireEvent.click(within(screen.getByRole('listbox')).getByText(words));
};
const rowOf = (name: string): (string | null)[] =>
  within(screen.getByText(name, { selector: 'td' }).closest('tr')!)
    .getAllByRole('cell')
    .map((c) => c.textContent);

it('says where there is nothing yet', async () => {
  server = fakeServer({ 'GET /api/jobs/j1': jobOf() });
  showPage(<AlignmentScreen />, '/jobs/:jobId/alignment', '/jobs/j1/alignment');
  expect(await screen.findByText('Nothing aligned yet. Start from Frames.')).toBeTruthy();
});

it('of a stack names the reference, the worst frame, the model and how the focus order is known', async () => {
  await open({ reference: 1 });
  expect(screen.getByText(/Focus positions are measured from breathing/).textContent).toMatch(
    /4 frames in the geometry of b\.jpg\. Largest residual 0\.30 px in d\.jpg\. .* by shift, turn and scale/,
  );
  expect(screen.getByText('b.jpg (reference)')).toBeTruthy();
  expect(rowOf('d.jpg').at(-1)).toBe('3.00');
});

it('a frame that nothing ties has no residual, and is not the worst', async () => {
  await open({ frames: frames((f, k) => ({ ...f, residualPx: k === 3 ? null : f.residualPx })) });
  expect(rowOf('d.jpg')).toContain('not known');
  expect(screen.getByText(/Largest residual/).textContent).toContain('0.20 px in c.jpg');
  cleanup();
  await open({ frames: frames((f) => ({ ...f, residualPx: null })) });
  expect(screen.getByText(/nothing ties them/)).toBeTruthy();
});

it('says what a crop to what all frames cover would cost', async () => {
  await open();
  expect(screen.getByText(/All frames cover the whole merge/)).toBeTruthy();
  cleanup();
  await open({ frames: frames((f, k) => ({ ...f, coverage: k === 1 ? 0.93 : 1 })) });
  expect(screen.getByText(/loses at least 7\.0 %/)).toBeTruthy();
});

it('of a panorama tells the camera that turned', async () => {
  const facts = {
    ...{ kind: 'panorama' as const, failed: [], remarks: [], bendPx: 0.5, borders: null },
    composed: {
      ...{ projection: 'flat' as const, projections: [], focalPx: 1204.4, distortion: [0.0123, 0] as [number, number] },
      ...{ vignetting: [0, 0] as [number, number], lightResidual: 0, disagreement: 0, uprightSupport: 0 },
      ...{ lines: 0, cropLoss: 0.2 },
    },
  };
  await open({ kind: 'panorama', facts });
  const words = screen.getByText(/as one camera that turned/).textContent;
  expect(words).toContain('focal length 1204 px, distortion 1.23 %');
  expect(words).toContain('loses 20 %');
  expect(words).toContain('bend straight lines by up to 0.50 px');
  // A turning camera has no model to choose.
  expect(screen.queryByLabelText('Model')).toBeNull();
});

it('the map counts the places that lie off, frame by frame', async () => {
  const residuals = [
    [100, 100, 0.2],
    [200, 150, 0.9],
    [300, 200, 2.4],
  ] as [number, number, number][];
  await open({ frames: frames((f, k) => ({ ...f, residuals: k === 2 ? residuals : [] })) });
  expect(screen.getByLabelText('3 places, 2 of them off by more than 0.6 px')).toBeTruthy();
});

describe('aligning in another way', () => {
  it('sends model, local shifts and subject, and keeps how the set is merged', async () => {
    await open();
    choose('Model', 'Shift alone');
    choose('Local shifts', 'Lines bend by up to 1 px');
    choose('Align on', 'What is sharp in one frame');
    choose('Sharp in', 'c.jpg');
    fireEvent.click(screen.getByText('Align again'));
    await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
    expect(server.sent('POST')[0]!.body).toMatchObject({
      own: true,
      alignment: { model: 'shift', bendPx: 1, subject: { shapes: [], sharpOf: 'p2' } },
      options: { stackMethod: 'labels' },
    });
  });

  it('on a subject waits until one is marked', async () => {
    await open();
    choose('Align on', 'A subject that I mark');
    expect((screen.getByText('Align again') as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByText('Mark the subject first.')).toBeTruthy();
  });

  it('of a bracket offers no sharp part: all its frames are sharp', async () => {
    const { focus: _f, borders: _b, ...facts } = stackFacts();
    await open({ kind: 'bracket', facts: { ...facts, kind: 'bracket', evs: [-2, 0, 2, 4], moving: null } });
    fireEvent.mouseDown(screen.getByLabelText('Align on'));
    expect(within(screen.getByRole('listbox')).queryByText('What is sharp in one frame')).toBeNull();
  });

  it('that is refused says why', async () => {
    await open();
    server.answer('POST /api/jobs/j1/process', new Refusal(400, 'bendPx: 0 to 20 is accepted.'));
    fireEvent.click(screen.getByText('Align again'));
    expect(await screen.findByText('bendPx: 0 to 20 is accepted.')).toBeTruthy();
  });
});
