/**
 * @jest-environment jsdom
 */
// Around the plans: their list, the kit, the print check, and the card for the field.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Kit } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { summaryOf } from '../../testing/jobs';
import { showPage } from '../../testing/page';
import { kitOf, planOf } from '../../testing/plans';
import { CardScreen } from './card/CardScreen';
import { KitScreen } from './KitScreen';
import { PlansScreen } from './PlansScreen';
import { PrintScreen } from './PrintScreen';

let server: FakeServer;
beforeEach(() => {
  server = fakeServer({
    'GET /api/plans': [],
    'GET /api/kit': kitOf(),
    'GET /api/jobs': [summaryOf({ name: 'Gears, twelve slices' }), summaryOf({ id: 'j2', kind: 'bracket' })],
  });
});
afterEach(() => {
  cleanup();
  server.restore();
});
const type = (label: string, text: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value: text } });

describe('all plans', () => {
  it('stand with what follows from each; one that cannot be planned says so', async () => {
    const broken = planOf('focus-stack', 'broken');
    if (broken.sheet.kind === 'focus-stack') broken.sheet.request.fNumber = 90;
    server.answer('GET /api/plans', [planOf('bracket', 'b'), planOf('panorama', 'p'), broken]);
    showPage(<PlansScreen />);
    const rows = within(await screen.findByLabelText('Plans')).getAllByRole('listitem');
    expect(rows[0]!.textContent).toMatch(/Bracket · \d+ frames in steps of 2 EV/);
    expect(rows[1]!.textContent).toMatch(/Panorama · \d+ frames at 35 mm, \d+ MP/);
    expect(rows[2]!.textContent).toContain('Focus stack · cannot be planned yet');
  });

  it('a new one starts from the kit and is opened; a refusal is said', async () => {
    showPage(<PlansScreen />);
    server.answer('POST /api/plans', new Refusal(507, 'The disk is full.'));
    fireEvent.click(await screen.findByText('New panorama'));
    expect(await screen.findByText('The disk is full.')).toBeTruthy();
    server.answer('POST /api/plans', planOf('panorama', 'made'));
    fireEvent.click(screen.getByText('New panorama'));
    expect(await screen.findByText('/plan/made')).toBeTruthy();
    expect(server.sent('POST')[1]!.body).toMatchObject({ sheet: { kind: 'panorama', request: { focalLengthMm: 35 } } });
  });
});

describe('the kit', () => {
  const open = async (): Promise<void> => {
    server.answer('PUT /api/kit', ({ body }: { body: unknown }) => body);
    showPage(<KitScreen />);
    await screen.findByText('Cameras and lenses');
  };
  const saved = (): Kit => server.sent('PUT').at(-1)!.body as Kit;

  it('is written when it is saved, not before, and says which of both it is', async () => {
    await open();
    expect((screen.getByText('Save') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getAllByLabelText('Sensor width, mm')[0]!, { target: { value: '23.5' } });
    expect(await screen.findByText('Changes are not saved yet')).toBeTruthy();
    fireEvent.click(screen.getByText('Save'));
    expect(await screen.findByText('Saved')).toBeTruthy();
    expect(saved().bodies[0]!.sensorWidthMm).toBe(23.5);
  });

  it('does not go off without a number or a name; the field says so and keeps what stands in the others', async () => {
    await open();
    fireEvent.change(screen.getAllByLabelText('Focal length, mm')[0]!, { target: { value: '' } });
    fireEvent.change(screen.getAllByLabelText('Pixels across')[1]!, { target: { value: '9504' } });
    fireEvent.click(screen.getByText('Save'));
    expect(await screen.findByText('a number is needed')).toBeTruthy();
    expect(server.sent('PUT')).toHaveLength(0);
    fireEvent.change(screen.getAllByLabelText('Focal length, mm')[0]!, { target: { value: '28' } });
    fireEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(server.sent('PUT')).toHaveLength(1));
    expect([saved().lenses[0]!.focalLengthMm, saved().bodies[1]!.pixelsWide]).toEqual([28, 9504]);
  });

  it('cameras and lenses come and go; the last of each stays', async () => {
    await open();
    fireEvent.click(screen.getByLabelText('Remove Large body'));
    expect((screen.getByLabelText('Remove Bench body') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByText('Add a lens'));
    fireEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(server.sent('PUT')).toHaveLength(1));
    expect(saved().bodies.map((b) => b.name)).toEqual(['Bench body']);
    expect(saved().lenses.map((l) => l.name)).toEqual(['35 mm', '60 mm', 'New lens']);
  });

  it('a focus step is typed in per cent, or measured from a job and kept with its error', async () => {
    await open();
    fireEvent.click(screen.getAllByText('Add or measure a step')[0]!);
    expect(screen.getByText('Name the setting first.')).toBeTruthy();
    type('Setting', '3');
    type('Step, % of a slice', '42,5');
    fireEvent.click(screen.getByText('Add', { selector: 'button' }));
    expect(screen.getByText('setting 3: 43 % of a slice')).toBeTruthy();
    const box = within(screen.getByText('Measure', { selector: 'button' }).closest('div')!);
    await waitFor(() => expect(server.asked.some((a) => a.path === '/api/jobs')).toBe(true));
    fireEvent.change(screen.getByLabelText('Setting'), { target: { value: '5' } });
    await waitFor(() => {
      fireEvent.mouseDown(box.getByLabelText('Measure from job'));
      expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual(['Gears, twelve slices']);
    });
    fireEvent.click(screen.getByRole('option'));
    // The address holds the circle of confusion: what was asked is answered, whatever it is.
    const found = { source: 'change of scale', frames: 12, stepDioptres: 0.0123, errorDioptres: 0.0005 };
    const address = '/api/jobs/j1/focus-step?cocMm=';
    server.answer(`GET ${address}${(2 * 17.3) / 5184}`, { ...found, fraction: 0.8, fractionError: 0.04 });
    fireEvent.click(box.getByText('Measure', { selector: 'button' }));
    await waitFor(() => expect(server.asked.at(-1)!.path).toContain(address));
    expect(await screen.findByText('setting 5: 80 ± 4 % of a slice')).toBeTruthy();
  });
});

describe('the print check', () => {
  beforeEach(() => void showPage(<PrintScreen />));
  const figure = (label: string): string =>
    screen.getByText(label, { selector: 'dt' }).parentElement!.querySelector('dd')!.textContent;

  it('6000 × 4000 px at 300 ppi are 50.8 × 33.9 cm', () => {
    expect(figure('Print')).toBe('50.8 × 33.9 cm');
    expect(figure('Picture')).toBe('24 MP');
    type('Resolution', '150 ppi');
    expect(figure('Print')).toBe('101.6 × 67.7 cm');
  });

  it('from afar more pixels would not show, from near they would', () => {
    fireEvent.mouseDown(screen.getByLabelText('Viewed from'));
    fireEvent.click(within(screen.getByRole('listbox')).getByText('a distance'));
    type('Viewing distance', '10 m');
    expect(screen.getByText('More pixels would not show')).toBeTruthy();
    type('Viewing distance', '10 cm');
    type('Resolution', '100 ppi');
    expect(screen.getByText('More pixels would show')).toBeTruthy();
  });

  it('what cannot be is said at its field and answered by nothing', () => {
    type('Resolution', '5 ppi');
    expect(screen.getAllByText(/From 10 to 2400 ppi is accepted/).length).toBeGreaterThan(0);
    expect(screen.queryByText('Print', { selector: 'dt' })).toBeNull();
  });
});

describe('the card for the field', () => {
  it('holds each frame to be ticked, the cautions and the rules, and can be taken along', async () => {
    const plan = planOf('bracket');
    server.answer('GET /api/plans/plan1', {
      ...plan,
      sheet: { ...plan.sheet, cautions: ['water'], notes: 'Low tide.' },
    });
    showPage(<CardScreen />, '/plan/:planId/card', '/plan/plan1/card');
    const frames = within(await screen.findByLabelText('Frames')).getAllByRole('checkbox');
    expect(frames.length).toBeGreaterThan(2);
    fireEvent.click(frames[0]!);
    expect((frames[0] as HTMLInputElement).checked).toBe(true);
    expect(screen.getByText('Low tide.')).toBeTruthy();
    expect(document.querySelector('.rules')!.textContent.length).toBeGreaterThan(10);
    expect(screen.getByText('PDF').getAttribute('href')).toBe('/api/plans/plan1/card.pdf');
    const saved: string[] = [];
    URL.createObjectURL = () => 'blob:card';
    URL.revokeObjectURL = () => undefined;
    const click = jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLElement) {
      saved.push((this as HTMLAnchorElement).download);
    });
    fireEvent.click(screen.getByText('Take along as a page'));
    expect(saved).toEqual([`${plan.name}, capture card.html`]);
    click.mockRestore();
  });

  it('of what cannot be planned says why instead', async () => {
    const plan = planOf('focus-stack');
    if (plan.sheet.kind === 'focus-stack') plan.sheet.request.fNumber = 90;
    server.answer('GET /api/plans/plan1', plan);
    showPage(<CardScreen />, '/plan/:planId/card', '/plan/plan1/card');
    expect((await screen.findAllByText(/Cannot be planned/)).length).toBeGreaterThan(0);
    expect(screen.queryByText('PDF')).toBeNull();
  });
});
