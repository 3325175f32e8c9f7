/**
 * @jest-environment jsdom
 */
// The merge of a job: what was measured, what can be chosen for its kind, and merging anew.
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Job, Merge, MergeFacts } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../testing/fakeServer';
import { jobOf, workOf } from '../../testing/jobs';
import { describedMergeOf, stackFacts } from '../../testing/merges';
import { showPage } from '../../testing/page';
import { MergeScreen } from './MergeScreen';

let server: FakeServer;
afterEach(() => {
  cleanup();
  server.restore();
});

const common = { failed: [], remarks: [], bendPx: null };
const bracketFacts: MergeFacts = { kind: 'bracket', ...common, model: 'shift', evs: [-2, 0, 2, 4], moving: 0.034 };
const composed = {
  ...{ projection: 'cylindrical' as const, focalPx: 900, distortion: [0, 0] as [number, number], lines: 0 },
  ...{ vignetting: [0, 0] as [number, number], lightResidual: 0.012, disagreement: 0.025, uprightSupport: 0.4 },
  ...{ cropLoss: 0.14, projections: [] },
};
const panoramaFacts: MergeFacts = { kind: 'panorama', ...common, borders: { parts: 4, lengthPx: 5210 }, composed };

async function open(job: Job, merge: Partial<Merge> | null): Promise<void> {
  server = fakeServer({
    'GET /api/jobs/j1': job,
    'GET /api/merges/m1': describedMergeOf(merge ?? {}),
    'POST /api/jobs/j1/process': job,
  });
  showPage(<MergeScreen />, '/jobs/:jobId/merge', '/jobs/j1/merge');
  await (merge ? screen.findByText(/1200 × 800 px/) : screen.findByText(/Nothing merged yet/));
}
const button = (words: string): HTMLButtonElement => screen.getByText(words, { selector: 'button' });
const choose = (label: string, words: string): void => {
  fireEvent.mouseDown(screen.getByLabelText(label));
  fireEvent.click(within(screen.getByRole('listbox')).getByText(words));
};
const asked = (): { own: boolean; options: Record<string, unknown> } =>
  server.sent('POST').at(-1)!.body as { own: boolean; options: Record<string, unknown> };

describe('what was measured', () => {
  it('of a stack: its parts and their borders, and who gives nothing', async () => {
    await open(jobOf({ mergeId: 'm1' }), { facts: { ...stackFacts(), borders: { parts: 31, lengthPx: 18_220 } } });
    expect(screen.getByText(/31 parts, each from one frame, with 18,220 px of borders/)).toBeTruthy();
    expect(screen.getByText('c.jpg adds nothing visible: the merge can do without.')).toBeTruthy();
  });

  it('of a panorama: light, seams and crop; frames that need a look are named', async () => {
    const failed = [{ fileName: 'x.jpg', why: 'it is mirrored: turn it round and add it again' }];
    await open(jobOf({ kind: 'panorama', mergeId: 'm1' }), { kind: 'panorama', facts: { ...panoramaFacts, failed } });
    expect(screen.getByText(/frames differ by 2\.5 % .* within 1\.2 %; the crop costs 14 %/)).toBeTruthy();
    expect(within(screen.getByLabelText('Frames that need a look')).getByText(/it is mirrored/)).toBeTruthy();
  });

  it('of a bracket: exposures beside shares, and what moved', async () => {
    await open(jobOf({ kind: 'bracket', mergeId: 'm1' }), { kind: 'bracket', facts: bracketFacts });
    expect(screen.getByText('33.3 % · -2.0 EV')).toBeTruthy();
    expect(screen.getByText(/Something moved in 3\.4 % of the picture/)).toBeTruthy();
  });

  it('of one made elsewhere: that it came so, and that an own one would be new', async () => {
    await open(jobOf({ mergeId: 'm1' }), { origin: 'imported' });
    expect(screen.getByText(/laid on its frames as it came/)).toBeTruthy();
    expect(button('Make a merge of our own')).toBeTruthy();
  });
});

describe('merging', () => {
  it('a stack goes by the method that is chosen; its lines are there for gradients only', async () => {
    await open(jobOf({ mergeId: 'm1' }), {});
    expect(screen.queryByText(/^From a\.jpg/)).toBeNull();
    choose('Method', 'Straight gradients');
    expect(screen.getByText('From a.jpg to b.jpg')).toBeTruthy();
    expect(screen.getByText('From b.jpg to c.jpg')).toBeTruthy();
    fireEvent.change(screen.getAllByLabelText('Height, %')[0]!, { target: { value: '40' } });
    fireEvent.click(button('Merge again'));
    await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
    expect(asked()).toMatchObject({ own: true, options: { stackMethod: 'gradient' } });
    expect((asked().options['gradients'] as { y: number }[])[0]!.y).toBeCloseTo(0.4, 9);
  });

  it('a panorama takes a projection, and leaves crop and light to be switched off', async () => {
    await open(jobOf({ kind: 'panorama', mergeId: 'm1' }), { kind: 'panorama', facts: panoramaFacts });
    choose('Projection', 'Sphere: for tall, wide sets');
    fireEvent.click(screen.getByLabelText('Cut to the largest clean rectangle'));
    fireEvent.click(screen.getByLabelText('Even out light, white balance and vignetting'));
    fireEvent.click(button('Merge again'));
    await waitFor(() => expect(server.sent('POST')).toHaveLength(1));
    expect(asked().options).toMatchObject({ projection: 'spherical', crop: false, evenLight: false });
  });

  it('a painted bracket must be painted on first', async () => {
    await open(jobOf({ kind: 'bracket', mergeId: 'm1' }), { kind: 'bracket', facts: bracketFacts, reference: 1 });
    choose('Method', 'Painted parts from other frames');
    expect(button('Merge again').disabled).toBe(true);
    expect(screen.getByText('Paint what is to come from another frame.')).toBeTruthy();
    // Frames to paint from are told by their exposure.
    fireEvent.mouseDown(screen.getByLabelText('Paint in from'));
    expect(
      within(screen.getByRole('listbox'))
        .getAllByRole('option')
        .map((o) => o.textContent),
    ).toEqual(['a.jpg, -2.0 EV', 'c.jpg, +2.0 EV', 'd.jpg, +4.0 EV']);
  });

  it('needs two frames, waits while there is work, and says why it was refused', async () => {
    await open(jobOf({}, []), null);
    expect(screen.getByText('At least 2 frames are needed.')).toBeTruthy();
    cleanup();
    await open(jobOf({ mergeId: 'm1' }, undefined, [workOf()]), {});
    expect(button('Merge again').disabled).toBe(true);
    cleanup();
    await open(jobOf({ mergeId: 'm1' }), {});
    server.answer('POST /api/jobs/j1/process', new Refusal(409, 'This job is being processed already.'));
    fireEvent.click(button('Merge again'));
    expect(await screen.findByText('This job is being processed already.')).toBeTruthy();
  });

  it('leads to the bench', async () => {
    await open(jobOf({ mergeId: 'm1' }), {});
    fireEvent.click(button('Look at it on the bench'));
    expect(screen.getByText('/jobs/j1/bench')).toBeTruthy();
  });
});
