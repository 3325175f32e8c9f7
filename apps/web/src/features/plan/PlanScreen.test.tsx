/**
 * @jest-environment jsdom
 */
// A plan under work: what is asked changes what is answered, and is written by itself; nothing typed is lost.
import { act, cleanup, fireEvent, screen, within } from '@testing-library/react';
import type { Kit } from '@blendrak/contract';
import type { BracketSheet } from './BracketForm';
import type { FocusSheet } from './FocusForm';
import type { PanoramaSheet } from './PanoramaForm';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { showPage } from '../../testing/page';
import { kitOf, planOf } from '../../testing/plans';
import type { PlanKind } from './newPlan';
import { PlanScreen } from './PlanScreen';

let server: FakeServer;
afterEach(() => {
  cleanup();
  server.restore();
  jest.useRealTimers();
});

async function open(kind: PlanKind, kit = kitOf()): Promise<void> {
  const plan = planOf(kind);
  server = fakeServer({
    'GET /api/plans/plan1': plan,
    'GET /api/kit': kit,
    'GET /api/plans': [plan],
    'PUT /api/plans/plan1': ({ body }: { body: unknown }) => ({ ...plan, ...(body as object) }),
  });
  showPage(<PlanScreen />, '/plan/:planId', '/plan/plan1');
  await screen.findByLabelText('The plan');
}

const asked = () => within(screen.getByLabelText('What is asked'));
const answered = () => within(screen.getByLabelText('The plan'));
const figure = (label: string): string =>
  answered().getByText(label, { selector: 'dt' }).parentElement!.querySelector('dd')!.textContent;
const type = (label: string, text: string): void =>
  void fireEvent.change(asked().getByLabelText(label), { target: { value: text } });
const choose = (label: string, words: string): void => {
  fireEvent.mouseDown(asked().getByLabelText(label));
  fireEvent.click(within(screen.getByRole('listbox')).getByText(words));
};
/** Lets the pause before writing pass, and the answer come. */
const pass = async (ms: number): Promise<void> => {
  await act(async () => {
    await jest.advanceTimersByTimeAsync(ms);
  });
};
const written = <Sheet,>(): Sheet | undefined =>
  (server.sent('PUT').at(-1)?.body as { sheet: Sheet } | undefined)?.sheet;

describe('a focus stack', () => {
  it('leaves as much room for breathing as the jobs measured on this lens', async () => {
    await open('focus-stack');
    const drawn = figure('Frame wider by');
    cleanup();
    server.restore();
    const lens = kitOf().lenses.map((l) => l.name);
    const fact = (name: string): Kit['measured'][number] => ({
      ...{ camera: 'Bench body', lens: name, what: 'breathing', words: 'change of scale with focus', value: -40 },
      ...{ unit: '% per dioptre', spread: 0.2, jobs: 3, takenAt: '2026-11-02T08:00:00.000Z' },
    });
    await open('focus-stack', kitOf(lens.map(fact)));
    expect(await answered().findByText(/measured in 3 jobs/)).toBeTruthy();
    expect(parseFloat(figure('Frame wider by'))).toBeGreaterThan(parseFloat(drawn));
  });

  it('takes more frames over more depth, and more at a wider aperture', async () => {
    await open('focus-stack');
    const before = Number(figure('Frames'));
    type('Farthest point', '60 cm');
    const deeper = Number(figure('Frames'));
    expect(deeper).toBeGreaterThan(before);
    type('Aperture', 'f/4');
    expect(Number(figure('Frames'))).toBeGreaterThan(deeper);
  });

  it('is written a moment after the last change, once', async () => {
    await open('focus-stack');
    jest.useFakeTimers();
    for (const text of ['5', '50', '50 cm']) type('Farthest point', text);
    expect(screen.getByText('Saving …')).toBeTruthy();
    expect(server.sent('PUT')).toHaveLength(0);
    await pass(600);
    expect(server.sent('PUT')).toHaveLength(1);
    expect(written<FocusSheet>()!.request.farthestMm).toBe(500);
    expect(screen.getByText('Saved')).toBeTruthy();
  });

  it('that the server does not take says why, stays as typed, and is sent again with the next change', async () => {
    await open('focus-stack');
    jest.useFakeTimers();
    server.answer('PUT /api/plans/plan1', new Refusal(507, 'The disk is full.'));
    type('Overlap', '40 %');
    await pass(600);
    expect(screen.getByRole('alert').textContent).toBe('Not saved: The disk is full.');
    server.answer('PUT /api/plans/plan1', ({ body }: { body: object }) => ({ ...planOf('focus-stack'), ...body }));
    type('Spare slices', '2');
    await pass(600);
    expect(written<FocusSheet>()!.request).toMatchObject({ overlap: 0.4, spare: 2 });
    expect(screen.getByText('Saved')).toBeTruthy();
  });

  it('is written at once when the page is left', async () => {
    await open('focus-stack');
    type('Notes for the card', 'Mind the tide.');
    cleanup();
    expect(server.sent('PUT').map((p) => (p.body as { sheet: { notes: string } }).sheet.notes)).toEqual([
      'Mind the tide.',
    ]);
  });

  it('on a rail asks for depth and magnification instead of distances', async () => {
    await open('focus-stack');
    choose('Moves by', 'a rail');
    expect(asked().queryByLabelText('Nearest point')).toBeNull();
    type('Depth', '12 mm');
    const step = figure('Step on the rail');
    type('Magnification', '3');
    expect(figure('Step on the rail')).not.toBe(step);
    expect(figure('Magnification')).toBe('×3');
  });

  it('judges sharpness by pixels, by the print or by the diagonal', async () => {
    await open('focus-stack');
    const frames = figure('Frames');
    choose('Sharp enough', 'on a print');
    expect(asked().getByLabelText('Print width')).toBeTruthy();
    expect(figure('Frames')).not.toBe(frames);
    choose('Sharp enough', 'diagonal / 1500');
    expect(asked().queryByLabelText('Print width')).toBeNull();
  });

  it('takes another camera from the kit, with its pixels', async () => {
    await open('focus-stack');
    await screen.findByText(/5184 × 3888 px/);
    choose('Camera', 'Large body');
    expect(asked().getByText(/8256 × 5504 px/)).toBeTruthy();
  });

  it('says at the field what cannot be, gives no answer to it, and keeps what was typed', async () => {
    await open('focus-stack');
    type('Aperture', 'f/90');
    const field = asked().getByLabelText('Aperture');
    expect(field.getAttribute('aria-invalid')).toBe('true');
    expect(answered().getAllByText(/Cannot be planned/).length).toBeGreaterThan(0);
    expect(answered().queryByText('Frames', { selector: 'dt' })).toBeNull();
    expect((field as HTMLInputElement).value).toBe('f/90');
  });

  it('takes one of the two schools by a click', async () => {
    await open('focus-stack');
    const table = within(answered().getByRole('table', { name: 'Both schools' }));
    fireEvent.click(table.getByRole('button', { name: 'Take sharpest aperture, more frames' }));
    expect((asked().getByLabelText('Aperture') as HTMLInputElement).value).toBe('f/5.6');
    expect(table.queryByRole('button', { name: 'Take sharpest aperture, more frames' })).toBeNull();
  });
});

describe('a panorama', () => {
  it('wider takes more frames; a full turn closes on itself', async () => {
    await open('panorama');
    const before = Number(figure('Frames'));
    type('Angle across', '240°');
    const wide = Number(figure('Frames'));
    expect(wide).toBeGreaterThan(before);
    type('Angle across', '360°');
    expect(Number(figure('Frames'))).toBeGreaterThan(wide);
  });

  it('refuses a flat canvas beyond 120° at its field, and takes another projection from the table', async () => {
    await open('panorama');
    type('Angle across', '140°');
    choose('Projection', 'flat perspective');
    expect(asked().getByText(/Up to 120° is accepted/)).toBeTruthy();
    choose('Projection', 'cylindrical');
    const canvas = figure('Canvas');
    fireEvent.click(answered().getByRole('button', { name: 'Take spherical' }));
    expect(figure('Canvas')).not.toBe(canvas);
  });

  it('starts from the lens or from the print, and asks for what it then needs', async () => {
    await open('panorama');
    choose('Start from', 'the print I want');
    expect(asked().queryByLabelText('Focal length')).toBeNull();
    const short = figure('Focal length');
    type('Print width', '3 m');
    expect(parseFloat(figure('Focal length'))).toBeGreaterThan(parseFloat(short));
  });

  it('off the entrance pupil near things break, about it they do not', async () => {
    await open('panorama');
    expect(figure('Parallax')).toBe('0.0 px');
    type('Pupil off the axis', '80 mm');
    type('Nearest thing', '1 m');
    expect(parseFloat(figure('Parallax'))).toBeGreaterThan(2);
    expect(answered().getAllByText(/edges will break/).length).toBeGreaterThan(0);
  });

  it('exposures at each direction multiply the time, not the directions', async () => {
    await open('panorama');
    const meaning = (): string => answered().getByText('Frames', { selector: 'dt' }).parentElement!.textContent;
    const before = meaning();
    type('Exposures at each', '3');
    expect(meaning()).toContain(', 3 exposures each');
    expect(before).not.toContain('exposures each');
    type('Exposures at each', '0');
    expect(asked().getByLabelText('Exposures at each').getAttribute('aria-invalid')).toBe('true');
  });
});

describe('a bracket', () => {
  it('holds a wider scene with more exposures, or with larger steps fewer', async () => {
    await open('bracket');
    const before = Number(figure('Exposures'));
    type('Range of the scene', '20 EV');
    const more = Number(figure('Exposures'));
    expect(more).toBeGreaterThan(before);
    type('Step', '3 EV');
    expect(Number(figure('Exposures'))).toBeLessThan(more);
  });

  it('with a number of one’s own holds what that number holds', async () => {
    await open('bracket');
    choose('Number', 'my own number');
    type('Frames', '2');
    expect(figure('Exposures')).toBe('2');
    expect(parseFloat(figure('Range held'))).toBeLessThan(16);
  });

  it('takes further times for what moves, and lets go of them', async () => {
    await open('bracket');
    jest.useFakeTimers();
    fireEvent.click(asked().getByRole('button', { name: 'Add a time' }));
    fireEvent.change(asked().getByLabelText('For'), { target: { value: 'flags' } });
    type('Time', '1/500');
    await pass(600);
    expect(written<BracketSheet>()!.request.extras).toEqual([{ what: 'flags', exposureS: 1 / 500 }]);
    expect(answered().getByText(/of the series, 1 for what moves/)).toBeTruthy();
    fireEvent.click(asked().getByRole('button', { name: 'Remove the time for flags' }));
    await pass(600);
    expect(written<BracketSheet>()!.request.extras).toEqual([]);
  });
});

it('cautions of the place are ticked in their order, and go with the plan', async () => {
  await open('panorama');
  jest.useFakeTimers();
  const boxes = asked().getAllByRole('checkbox');
  fireEvent.click(boxes[3]!);
  fireEvent.click(boxes[0]!);
  await pass(600);
  const { cautions } = written<PanoramaSheet>()!;
  expect(cautions).toHaveLength(2);
  expect((boxes[0] as HTMLInputElement).checked && (boxes[3] as HTMLInputElement).checked).toBe(true);
  fireEvent.click(boxes[0]!);
  await pass(600);
  expect(written<PanoramaSheet>()!.cautions).toEqual(cautions.slice(1));
});

describe('the head', () => {
  it('a plan without a name is not saved quietly', async () => {
    await open('bracket');
    fireEvent.change(screen.getByRole('textbox', { name: 'Name of the plan' }), { target: { value: ' ' } });
    expect(screen.getByRole('alert').textContent).toBe('Not saved: A name is needed.');
  });

  it('a copy has a name of its own and is opened', async () => {
    await open('bracket');
    server.answer('POST /api/plans', ({ body }: { body: object }) => ({ ...planOf('bracket', 'plan2'), ...body }));
    fireEvent.click(screen.getByRole('button', { name: 'Duplicate' }));
    await screen.findByText('/plan/plan2');
    expect((server.sent('POST')[0]!.body as { name: string }).name).toBe('Bracket, new, copy');
  });

  it('the camera is sent out with the plan as it stands, and the job is opened', async () => {
    await open('focus-stack');
    server.answer('GET /api/camera', []);
    fireEvent.click(screen.getByRole('button', { name: 'Shoot it …' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect((dialog.getByRole('button', { name: 'Release' }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(dialog.getByRole('button', { name: 'Cancel' }));
  });

  it('a plan that is not there says so in the server’s words', async () => {
    server = fakeServer({ 'GET /api/plans/plan1': new Refusal(404, 'There is no plan plan1.') });
    showPage(<PlanScreen />, '/plan/:planId', '/plan/plan1');
    expect(await screen.findByText('There is no plan plan1.')).toBeTruthy();
  });
});
