/**
 * @jest-environment jsdom
 */
// The files of a job: what each is, those that come one by one, a folder, and when the work can start.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Job } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { jobOf, pictureOf, summaryOf, workOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { planOf } from '../../testing/plans';
import { FramesScreen } from './FramesScreen';

let server: FakeServer;
afterEach(() => {
  cleanup();
  server.restore();
});

async function open(job: Job, more: Record<string, unknown> = {}): Promise<void> {
  server = fakeServer({
    'GET /api/jobs/j1': job,
    'GET /api/jobs': [summaryOf()],
    'GET /api/plans': [planOf('focus-stack')],
    'GET /api/jobs/j1/plan': { plan: null, comparison: [] },
    ...more,
  });
  showPage(<FramesScreen />, '/jobs/:jobId/frames', '/jobs/j1/frames');
  await screen.findByText('Frames in shooting order');
}

const row = (name: string): HTMLElement => screen.getByText(name, { selector: 'td' }).closest('tr')!;
const button = (words: string): HTMLButtonElement => screen.getByText(words, { selector: 'button' });

it('says of each file what it is, what is wrong with it, or that it waits', async () => {
  const exif = {
    ...{ camera: 'Bench', lens: '60 mm', fNumber: 8, exposureS: 0.25, iso: 100, focalLengthMm: 60 },
    ...{ focusDistanceM: 0.3104, takenAt: null, focalLength35Mm: null },
  };
  await open(
    jobOf({}, [
      pictureOf('sharp', { exif: exif as never }),
      pictureOf('plain', { bits: 16, profile: null }),
      pictureOf('cut', { status: 'failed', error: 'cut.jpg: the file ends early (truncated).', width: null }),
      pictureOf('late', { status: 'waiting', width: null }),
    ]),
  );
  expect(row('sharp.jpg').textContent).toContain('1200 × 9008 bit, sRGB1/4 s f/8 ISO 10060 mm310 mm');
  expect(row('plain.jpg').textContent).toContain('16 bit, no profileno Exif––');
  expect(row('cut.jpg').textContent).toContain('the file ends early');
  expect(row('late.jpg').textContent).toContain('waiting to be read');
  // Two of four can be used: that is enough to start.
  expect(button('Align, merge and inspect').disabled).toBe(false);
});

it('needs two frames to start, and says so', async () => {
  await open(jobOf({}, [pictureOf('one')]));
  expect(screen.getByText('At least 2 frames are needed.')).toBeTruthy();
  expect(button('Align, merge and inspect').disabled).toBe(true);
});

it('says what the frames are taken for, and takes them for something else when told so', async () => {
  const told = jobOf({ kind: 'panorama' });
  await open(jobOf({ isKindOpen: true }), { 'PATCH /api/jobs/j1': told });
  const choice = screen.getByLabelText('These frames are');
  expect(choice.textContent).toBe('told from the frames');
  fireEvent.mouseDown(choice);
  fireEvent.click(screen.getByRole('option', { name: 'a panorama' }));
  await waitFor(() => expect(screen.getByLabelText('These frames are').textContent).toBe('a panorama'));
  expect(server.sent('PATCH').map((p) => p.body)).toEqual([{ kind: 'panorama' }]);
});

it('does not ask what the frames are while they are processed', async () => {
  await open(jobOf({}, undefined, [workOf({ kind: 'process', status: 'running' })]));
  expect(screen.queryByLabelText('These frames are')).toBeNull();
});

it('with a merge made elsewhere that one is inspected', async () => {
  const merge = pictureOf('m', { role: 'merge', fileName: 'made elsewhere.tif' });
  await open(jobOf({}, [pictureOf('a'), pictureOf('b'), merge]), { 'POST /api/jobs/j1/process': jobOf() });
  fireEvent.click(button('Align and inspect the merge'));
  await waitFor(() => expect(server.sent('POST').map((p) => p.path)).toEqual(['/api/jobs/j1/process']));
});

it('a refusal to start is said, and the button stays', async () => {
  await open(jobOf(), { 'POST /api/jobs/j1/process': new Refusal(409, 'This job is being processed already.') });
  fireEvent.click(button('Align, merge and inspect'));
  expect(await screen.findByText('This job is being processed already.')).toBeTruthy();
  expect(button('Align, merge and inspect').disabled).toBe(false);
});

it('while it works there is no second start; a paused piece says why', async () => {
  await open(jobOf({}, undefined, [workOf()]));
  expect(screen.queryByText('Align, merge and inspect')).toBeNull();
  cleanup();
  await open(jobOf({}, undefined, [workOf({ status: 'paused', error: 'The disk is full: 2 MB are left.' })]));
  expect(screen.getByText(/paused\. The disk is full: 2 MB are left/)).toBeTruthy();
});

it('a frame is taken out, and a refusal to do so is said', async () => {
  await open(jobOf(), { 'DELETE /api/jobs/j1/pictures/b': new Refusal(409, 'b.jpg is in a merge under way.') });
  fireEvent.click(screen.getByLabelText('Take out b.jpg'));
  expect(await screen.findByText('b.jpg is in a merge under way.')).toBeTruthy();
});

describe('files that are dropped', () => {
  const drop = (...names: string[]): void =>
    void fireEvent.change(screen.getByLabelText('Frames'), {
      target: { files: names.map((name) => new File(['x'], name, { type: 'image/jpeg' })) },
    });

  it('go one after the other; a bad one stays in the list with its reason until it is dismissed', async () => {
    await open(jobOf({}, []));
    let sending = 0;
    let most = 0;
    const answers: unknown[] = [{ id: 'p1' }, new Refusal(400, 'b.txt: this is no picture.'), { id: 'p3' }];
    server.answer('POST /api/jobs/j1/files?role=frame', () => {
      most = Math.max(most, ++sending);
      sending -= 1;
      return answers.shift();
    });
    drop('a.jpg', 'b.txt', 'c.jpg');
    expect(await screen.findByText('b.txt: this is no picture.')).toBeTruthy();
    await waitFor(() => expect(server.sent('POST')).toHaveLength(3));
    expect(most).toBe(1);
    await waitFor(() => expect(screen.queryByText('c.jpg')).toBeNull());
    fireEvent.click(screen.getByLabelText('Dismiss b.txt'));
    expect(screen.queryByText('b.txt')).toBeNull();
  });
});

describe('a folder', () => {
  const fill = (label: string, text: string): void =>
    void fireEvent.change(screen.getByLabelText(label), { target: { value: text } });

  it('is read with the file that is the merge, and the fields are empty again', async () => {
    await open(jobOf({}, []), { 'POST /api/jobs/j1/folder': { count: 7 } });
    expect(button('Read the folder').disabled).toBe(true);
    fill('Folder path', ' /pictures/cove ');
    fill('Which file is the merge (optional)', 'cove.tif');
    fireEvent.click(button('Read the folder'));
    await waitFor(() => expect((screen.getByLabelText('Folder path') as HTMLInputElement).value).toBe(''));
    expect(server.sent('POST')[0]!.body).toEqual({ path: '/pictures/cove', merge: 'cove.tif' });
  });

  it('that cannot be read is said, and the path stays to be mended', async () => {
    await open(jobOf({}, []), { 'POST /api/jobs/j1/folder': new Refusal(400, '/nowhere: the folder cannot be read.') });
    fill('Folder path', '/nowhere');
    fireEvent.click(button('Read the folder'));
    expect(await screen.findByText('/nowhere: the folder cannot be read.')).toBeTruthy();
    expect((screen.getByLabelText('Folder path') as HTMLInputElement).value).toBe('/nowhere');
  });
});

describe('a frame that is another job’s merge', () => {
  const linked = (state: 'fresh' | 'stale' | 'gone') =>
    jobOf({}, [
      pictureOf('a'),
      pictureOf('l', { fileName: 'sky.tif', linked: { jobId: 'j2', jobName: 'Sky', state } as never }),
    ]);

  it('says where it comes from; one that has changed since is taken anew', async () => {
    await open(linked('stale'), { 'POST /api/jobs/j1/merge-frames/l/renew': jobOf() });
    expect(screen.getByText('Sky').getAttribute('href')).toBe('/jobs/j2/bench');
    fireEvent.click(button('Take it anew'));
    await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
    cleanup();
    await open(linked('gone'));
    expect(screen.getByText('its job has no merge any more')).toBeTruthy();
  });

  it('is offered only from jobs that have a merge, never from this one', async () => {
    await open(jobOf(), {
      'GET /api/jobs': [
        summaryOf({ mergeId: 'm1' }),
        summaryOf({ id: 'j2', name: 'Sky', mergeId: 'm2' }),
        summaryOf({ id: 'j3', name: 'Not yet' }),
      ],
      'POST /api/jobs/j1/merge-frames': new Refusal(409, '“Sky” is made of this job: that would go round in a circle.'),
    });
    fireEvent.mouseDown(await screen.findByLabelText('Or the merge of another job'));
    expect(
      within(screen.getByRole('listbox'))
        .getAllByRole('option')
        .map((o) => o.textContent),
    ).toEqual(['Sky']);
    fireEvent.click(within(screen.getByRole('listbox')).getByText('Sky'));
    fireEvent.click(button('Take it as a frame'));
    expect(await screen.findByText(/that would go round in a circle/)).toBeTruthy();
    expect(server.sent('POST')[0]!.body).toEqual({ sourceJobId: 'j2' });
  });
});

it('a plan is attached, and what was shot stands beside what was planned', async () => {
  const attached = {
    plan: { planId: 'plan1', name: 'Focus stack, new', sheet: planOf('focus-stack').sheet },
    comparison: [
      { what: 'Frames', unit: '', planned: 12, actual: 11, verdict: 'worse' },
      { what: 'Aperture', unit: 'f/', planned: 8, actual: 8, verdict: 'as planned' },
      { what: 'Overlap', unit: '%', planned: 25, actual: null, verdict: 'unknown' },
    ],
  };
  await open(jobOf(), { 'PUT /api/jobs/j1/plan': attached });
  fireEvent.mouseDown(await screen.findByLabelText('Plan', { selector: '[role=combobox]' }));
  fireEvent.click(await screen.findByText('Focus stack, new'));
  const table = within(await screen.findByLabelText('Plan against reality'));
  expect(
    table
      .getAllByRole('row')
      .slice(1)
      .map((r) => r.textContent),
  ).toEqual(['Frames1211short of the plan', 'Aperturef/8f/8as planned', 'Overlap25 %–not known']);
  expect(server.sent('PUT')[0]!.body).toEqual({ planId: 'plan1' });
});

it('keeps what is said of how it was shot when a field is left, once, and says why it could not', async () => {
  const said = { support: 'hand', place: '', light: '' };
  await open(jobOf(), {
    'PATCH /api/jobs/j1': ({ body }: { body: unknown }) =>
      (body as { circumstances: { place: string } }).circumstances.place === ''
        ? { ...jobOf(), circumstances: said }
        : new Refusal(507, 'The disk is full.'),
  });
  const fields = within(screen.getByRole('region', { name: 'How it was shot' }));
  const field = fields.getByLabelText('Support');
  fireEvent.change(field, { target: { value: 'hand' } });
  fireEvent.blur(field);
  await waitFor(() => expect(server.sent('PATCH').map((r) => r.body)).toEqual([{ circumstances: said }]));
  await waitFor(() => {
    fireEvent.blur(field);
    expect(server.sent('PATCH')).toHaveLength(1);
  });
  fireEvent.change(fields.getByLabelText('Place'), { target: { value: 'cliff' } });
  fireEvent.blur(fields.getByLabelText('Place'));
  expect(await fields.findByText('The disk is full.')).toBeTruthy();
});
