/**
 * @jest-environment jsdom
 */
// The simulated camera: a subject, its settings, and what it says of an order.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ShootMenu, ShootOrder } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { summaryOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { CameraScreen } from './CameraScreen';

const entry = (subject: ShootMenu[number]['subject'], kind: ShootMenu[number]['kind'], title: string) => ({
  ...{ subject, kind, title, frames: 5, subjectMm: { near: 300, far: 340 } },
  settings: {
    ...{ focalLengthMm: 60, fNumber: 8, iso: 100, step: null, focusFromMm: null, rows: 1, wind: 0 },
    ...{ support: 'tripod' as const, intervalS: 2, pupilOffsetMm: 0, lightDriftEvPerMin: 0 },
    ...{ uncorrected: false, dust: 0 },
  },
});
let server: FakeServer;
beforeEach(async () => {
  server = fakeServer({
    'GET /api/camera': [
      entry('gear-train', 'focus-stack', 'Gear train'),
      entry('cove', 'panorama', 'The cove'),
      entry('tower', 'panorama', 'The tower'),
    ],
    'POST /api/camera/shoot': summaryOf({ id: 'shot' }),
  });
  showPage(<CameraScreen />, '/camera');
  await screen.findByText('Simulated camera');
});
afterEach(() => {
  cleanup();
  server.restore();
});
const type = (label: string, text: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
const release = (): void => void fireEvent.click(screen.getByText('Release'));
const order = (): ShootOrder => server.sent('POST')[0]!.body as ShootOrder;

it('goes out as a careful photographer would, and leads to the job', async () => {
  release();
  expect(await screen.findByText('/jobs/shot/frames')).toBeTruthy();
  expect(order()).toMatchObject({ name: 'Gear train', subject: 'gear-train', frames: 5, format: 'jpeg', bits: 8 });
});

it('asks of each subject what concerns it', () => {
  expect(screen.getByLabelText('First focus, mm')).toBeTruthy();
  expect(screen.queryByLabelText('Rows')).toBeNull();
  fireEvent.click(screen.getByLabelText(/The cove/));
  expect(screen.queryByLabelText('First focus, mm')).toBeNull();
  expect(screen.getByLabelText('Rows')).toBeTruthy();
  expect(screen.getByLabelText('Pupil offset, mm')).toBeTruthy();
  // A vertical pair always has two frames.
  fireEvent.click(screen.getByLabelText(/The tower/));
  expect(screen.queryByLabelText('Frames')).toBeNull();
});

it('takes settings, also those left open, and ticks', async () => {
  type('Frames', '9');
  type('f-number', '11');
  type('Step, dioptres', '0.01');
  fireEvent.click(screen.getByLabelText('End with a frame of the hand'));
  fireEvent.click(screen.getByLabelText('With a merge made elsewhere that has defects'));
  release();
  await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
  expect(order()).toMatchObject({
    ...{ frames: 9, separator: true, mergeElsewhere: false },
    settings: { fNumber: 11, step: 0.01, focusFromMm: null },
  });
});

it('asks for bits only of files that can have 16', async () => {
  expect(screen.queryByLabelText('Bits')).toBeNull();
  fireEvent.mouseDown(screen.getByLabelText('Files'));
  fireEvent.click(within(screen.getByRole('listbox')).getByText('tiff'));
  fireEvent.mouseDown(await screen.findByLabelText('Bits'));
  fireEvent.click(within(screen.getByRole('listbox')).getByText('16'));
  release();
  await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
  expect(order()).toMatchObject({ format: 'tiff', bits: 16 });
});

it('what cannot be is said at its field, and nothing is sent', async () => {
  type('f-number', '64');
  type('Frames', '');
  release();
  expect(await screen.findByText('f-number: from 1.4 to 32 is accepted')).toBeTruthy();
  expect(screen.getByText('frames: from 1 to 100 is accepted')).toBeTruthy();
  expect(server.sent('POST')).toHaveLength(0);
  expect((screen.getByLabelText('f-number') as HTMLInputElement).value).toBe('64');
});

it('what the camera refuses is said, and the order stays as it is', async () => {
  server.answer(
    'POST /api/camera/shoot',
    new Refusal(400, 'frames: 50 cannot be photographed. Accepted: from 1 to 9.'),
  );
  type('Frames', '50');
  release();
  expect((await screen.findByRole('alert')).textContent).toContain('Accepted: from 1 to 9.');
  expect((screen.getByLabelText('Frames') as HTMLInputElement).value).toBe('50');
});
