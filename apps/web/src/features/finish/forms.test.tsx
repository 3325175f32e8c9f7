/**
 * @jest-environment jsdom
 */
// Finish as people meet it: what stands against signing, the signature, the delivery, and where one stands before the print.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { ReactElement } from 'react';
import { MemoryRouter } from 'react-router';
import type { Cut, Finding, Finish, Obstacle, Work } from '@blendrak/contract';
import { fakeServer, Refusal } from '../../testing/fakeServer';
import { findingOf } from '../../testing/merges';
import { showPage } from '../../testing/page';
import { CutForm, type Shape } from './CutForm';
import { DeliveryForm } from './DeliveryForm';
import { DistanceLine } from './DistanceLine';
import { FillEdges } from './FillEdges';
import { SignForm } from './SignForm';
import { Standing } from './Standing';

afterEach(cleanup);
const asked: unknown[] = [];
beforeEach(() => void asked.splice(0));
const tell = (what: unknown): void => void asked.push(what);

const show = (element: ReactElement) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SnackbarProvider>
        <MemoryRouter>{element}</MemoryRouter>
      </SnackbarProvider>
    </QueryClientProvider>,
  );

const open: Obstacle = { kind: 'open', words: '2 findings that show are open: 2 halo.', covers: 'abc', waiver: null };
const waived: Obstacle = {
  ...{ kind: 'unseen', words: 'The picture was never looked at at full size.', covers: 'unseen' },
  waiver: { by: 'Ada', at: '2026-11-29T08:00:00.000Z', reason: 'a proof' },
};
const finishOf = (part: Partial<Finish> = {}): Finish => ({
  ...{ mergeId: 'm1', cut: { turnDeg: 0, crop: null }, cost: { ofPicture: 0, ofSubject: null }, obstacles: [] },
  ...{ signature: null, state: 'now', tilt: null, reshoot: [] },
  ...part,
});

describe('what stands against signing', () => {
  it('leads to its place, or is waived by name and reason, never without either', () => {
    show(<Standing jobId="j1" obstacles={[open, waived]} isLocked={false} by="" onWaive={tell} />);
    expect(screen.getByRole('link', { name: 'To the bench' }).getAttribute('href')).toBe('/jobs/j1/bench');
    expect(screen.getByText('Waived by Ada: a proof')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Waive …' }));
    const dialog = within(screen.getByRole('dialog', { name: open.words }));
    const waive = dialog.getByRole<HTMLButtonElement>('button', { name: 'Waive it' });
    expect(waive.disabled).toBe(true);
    fireEvent.change(dialog.getByRole('textbox', { name: 'Your name' }), { target: { value: ' Ada ' } });
    expect(waive.disabled).toBe(true);
    fireEvent.change(dialog.getByRole('textbox', { name: 'Why it may stay' }), { target: { value: 'small' } });
    fireEvent.click(waive);
    expect(asked).toEqual([{ kind: 'open', covers: 'abc', by: 'Ada', reason: 'small' }]);
  });

  it('of a locked merge cannot be waived; where nothing stands it says so', () => {
    show(<Standing jobId="j1" obstacles={[open]} isLocked by="" onWaive={tell} />);
    expect(screen.queryByRole('button')).toBeNull();
    cleanup();
    show(<Standing jobId="j1" obstacles={[]} isLocked={false} by="" onWaive={tell} />);
    expect(screen.getByText('Nothing stands against signing it.')).toBeTruthy();
  });
});

describe('the signature', () => {
  const form = (finish: Finish, by = 'Ada', isUnkept = false) =>
    show(
      <SignForm
        {...{ finish, by, isUnkept }}
        problem={null}
        onName={tell}
        onSign={tell}
        onOpenAgain={() => tell('open again')}
      />,
    );
  const sign = (): HTMLButtonElement => screen.getByRole('button', { name: 'Sign' });
  const choose = (verdict: string): void => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Verdict' }));
    fireEvent.click(screen.getByRole('option', { name: verdict }));
  };

  it('is of the state that was looked at', () => {
    form(finishOf());
    fireEvent.click(sign());
    expect(asked).toEqual([{ by: 'Ada', verdict: 'deliver', remarks: '', state: 'now' }]);
  });

  it.each([
    [finishOf(), '', false, 'Your name is missing.'],
    [finishOf(), 'Ada', true, 'Keep the cut first, or take the whole picture.'],
    [finishOf({ obstacles: [open] }), 'Ada', false, 'Something stands against it: settle or waive it first.'],
  ])('waits, and says for what: %#', (finish, by, isUnkept, words) => {
    form(finish, by, isUnkept);
    expect(sign().disabled).toBe(true);
    expect(screen.getByText(words)).toBeTruthy();
  });

  it('for a reshoot has the list of what to shoot filled in, whatever stands', () => {
    form(finishOf({ obstacles: [open], reshoot: ['A slice between a.jpg and b.jpg.'] }));
    choose('Reshoot');
    expect(screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'To be shot again' }).value).toBe(
      'A slice between a.jpg and b.jpg.',
    );
    fireEvent.click(sign());
    expect(asked).toMatchObject([{ verdict: 'reshoot', remarks: 'A slice between a.jpg and b.jpg.' }]);
  });

  it('that was given is shown, and taken back by opening again', () => {
    const signature = {
      by: 'Ada',
      at: '2026-11-29T08:00:00.000Z',
      verdict: 'deliver-with-remarks',
      remarks: 'crop tight',
    };
    form(finishOf({ signature: signature as Finish['signature'] }));
    expect(screen.getByText('crop tight')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Open again' }));
    expect(asked).toEqual(['open again']);
  });
});

describe('the delivery', () => {
  const work = (status: Work['status']): Work => ({
    ...{ id: 'w1', jobId: 'j1', kind: 'deliver', status, progress: 0.5, message: 'packing', error: null },
  });
  const make = (): HTMLButtonElement => screen.getByRole('button', { name: 'Make the delivery' });

  it('is made of what is ticked, once it is signed', () => {
    show(<DeliveryForm isSigned={false} work={null} problem={null} onDeliver={tell} />);
    expect(make().disabled).toBe(true);
    cleanup();
    show(<DeliveryForm isSigned work={null} problem={null} onDeliver={tell} />);
    fireEvent.click(screen.getByRole('checkbox', { name: 'Layers, OpenRaster' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Report, JSON' }));
    fireEvent.change(screen.getByRole('textbox', { name: 'JPEG, longer side, px' }), { target: { value: '' } });
    fireEvent.click(make());
    expect(asked).toEqual([
      {
        ...{ parts: ['tiff', 'jpeg', 'pdf', 'layers'], pattern: '{job} {date}', longSidePx: null, mostBytes: null },
        ...{ sharpen: false, into: 'zip' },
      },
    ]);
  });

  it('is sharpened only when that is asked for, and tells the folder that it was put into', () => {
    const folder = { ...work('done'), message: 'delivered into /prints/Gears' };
    show(<DeliveryForm isSigned work={folder} problem={null} onDeliver={tell} />);
    expect(screen.getByRole('status').textContent).toBe('delivered into /prints/Gears');
    expect(screen.queryByRole('link', { name: 'Take the ZIP' })).toBeNull();
    fireEvent.click(screen.getByRole('checkbox', { name: 'Sharpened for output, TIFF' }));
    fireEvent.click(screen.getByRole('checkbox', { name: 'Sharpen the JPEG for screens' }));
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'As' }));
    fireEvent.click(screen.getByRole('option', { name: 'a folder' }));
    fireEvent.click(make());
    expect(asked).toMatchObject([
      { parts: expect.arrayContaining(['print']) as string[], sharpen: true, into: 'folder' },
    ]);
  });

  it('refuses what cannot be made, in words, and offers the ZIP when it is there', () => {
    show(<DeliveryForm isSigned work={work('done')} problem="The disk is full." onDeliver={tell} />);
    expect(screen.getByRole('link', { name: 'Take the ZIP' }).getAttribute('href')).toBe('/api/deliveries/w1');
    expect(screen.getByRole('alert').textContent).toBe('The disk is full.');
    fireEvent.change(screen.getByRole('textbox', { name: 'JPEG, longer side, px' }), { target: { value: '5' } });
    expect(make().disabled).toBe(true);
    expect(screen.getByText(/a longer side of 200 to 60,000 px/)).toBeTruthy();
    cleanup();
    show(<DeliveryForm isSigned work={work('running')} problem={null} onDeliver={tell} />);
    expect(make().disabled).toBe(true);
    expect(screen.getByText('Delivery: packing')).toBeTruthy();
  });
});

describe('the cut in numbers', () => {
  const cut: Cut = { turnDeg: 0, crop: { x: 0, y: 0, width: 900, height: 600 } };
  const form = (part: { tilt?: Finish['tilt']; shape?: Shape; own?: string; isLocked?: boolean } = {}) =>
    show(
      <CutForm
        {...{ cut, isChanged: true, isDrawing: false, problem: null, size: { width: 1200, height: 800 } }}
        cost={{ ofPicture: 0.4375, ofSubject: null }}
        tilt={part.tilt ?? null}
        shape={part.shape ?? 'any'}
        own={part.own ?? ''}
        isLocked={part.isLocked ?? false}
        onShape={(shape, own) => tell([shape, own])}
        onPropose={tell}
        onDraw={() => tell('draw')}
        onKeep={() => tell('keep')}
        onWhole={() => tell('whole')}
      />,
    );

  it('says what stays and what it costs, and asks for the largest clean crop at a turn', () => {
    form();
    expect(screen.getByText('900 × 600 px stay. 44 % of the picture is cut off.')).toBeTruthy();
    fireEvent.change(screen.getByRole('textbox', { name: 'Turn, °' }), { target: { value: '-1.5' } });
    fireEvent.click(screen.getByRole('button', { name: 'Largest clean crop' }));
    fireEvent.click(screen.getByRole('button', { name: 'Keep this cut' }));
    expect(asked).toEqual([-1.5, 'keep']);
    fireEvent.change(screen.getByRole('textbox', { name: 'Turn, °' }), { target: { value: '45' } });
    expect(screen.getByText('−20 to 20')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Largest clean crop' }).disabled).toBe(true);
  });

  it('offers the turn that edges agree on, but not one that nobody sees; a locked one offers nothing', () => {
    form({ tilt: { turnDeg: 0.834, edges: 5, share: 0.7 } });
    fireEvent.click(screen.getByRole('button', { name: 'Straighten by 0.83° (5 edges agree)' }));
    expect(asked).toEqual([0.83]);
    cleanup();
    form({ tilt: { turnDeg: 0.02, edges: 9, share: 0.9 } });
    expect(screen.queryByRole('button', { name: /^Straighten by 0/ })).toBeNull();
    cleanup();
    form({ isLocked: true });
    expect(screen.getAllByRole<HTMLButtonElement>('button').every((b) => b.disabled)).toBe(true);
  });

  it('takes a shape of one’s own, and none that is no shape', () => {
    form({ shape: 'own', own: 'wide' });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Largest clean crop' }).disabled).toBe(true);
    fireEvent.change(screen.getByRole('textbox', { name: 'Own, w:h' }), { target: { value: '5:3' } });
    expect(asked).toEqual([['own', '5:3']]);
  });
});

it('with the distance findings vanish, the one seen from farthest last', () => {
  const findings = [
    { finding: findingOf('a', { defect: 'halo' }), farMm: 4000 },
    { finding: findingOf('b', { defect: 'seam' }), farMm: 900 },
    { finding: findingOf('c'), farMm: 0 },
  ];
  const at = (distanceMm: number): string | null => {
    cleanup();
    show(<DistanceLine {...{ distanceMm, findings }} onDistance={tell} />);
    return screen.getByRole('status').textContent;
  };
  expect(at(600)).toBe('From 60 cm: 2 findings show');
  expect(at(1500)).toBe('From 1.5 m: 1 finding shows');
  expect(at(5000)).toBe('From 5.0 m: nothing shows');
  expect(screen.getByText('The last to vanish: halo, 4.0 m')).toBeTruthy();
});

describe('edges without picture', () => {
  const edge = (id: string, part: Partial<Finding> = {}): Finding =>
    findingOf(id, { defect: 'border', repairable: false, ...part });

  it('are asked for again under the same names while the server is away: none is filled twice', async () => {
    const server = fakeServer({});
    const answering = globalThis.fetch;
    const paths: string[] = [];
    let isAway = true;
    globalThis.fetch = (async (path: string, init?: RequestInit) => {
      if (init?.method === 'POST') paths.push(path);
      // The second order is lost on its way, once.
      if (paths.length === 2 && isAway) {
        isAway = false;
        throw new Error('no connection');
      }
      return answering(path, init);
    }) as typeof fetch;
    server.answer('POST /api/merges/m1/fills?since=0', {
      revision: 3,
      changed: [],
      gone: [],
      undoable: 1,
      redoable: 0,
    });
    showPage(<FillEdges mergeId="m1" findings={[edge('a'), edge('b')]} isLocked={false} />);
    fireEvent.click(screen.getByRole('button', { name: 'Fill from around (invents picture)' }));
    await waitFor(() => expect(paths.length).toBe(4), { timeout: 8000 });
    expect([paths[2], paths[3]]).toEqual([paths[0], paths[1]]);
    expect(paths[0]).not.toBe(paths[1]);
    await screen.findByRole('button', { name: 'Fill from around (invents picture)' });
    expect(screen.queryByRole('alert')).toBeNull();
    server.restore();
  }, 15_000);

  it('are offered to be filled, each of those that are open, and what cannot be filled is said', async () => {
    const server = fakeServer({
      'POST /api/merges/m1/fills?since=0': new Refusal(409, 'Nothing around this place can be used to fill it.'),
    });
    const findings = [edge('a'), edge('b'), edge('c', { decision: 'accepted' }), findingOf('d')];
    showPage(<FillEdges mergeId="m1" findings={findings} isLocked={false} />);
    expect(screen.getByText(/2 edges have no picture/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Fill from around (invents picture)' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Nothing around this place');
    expect(server.sent('POST').map((r) => r.body)).toEqual([{ findingId: 'a' }]);
    expect(server.sent('POST')[0]!.path).toMatch(/&id=[0-9a-f]{16,}$/);
    server.restore();
    cleanup();
    showPage(<FillEdges mergeId="m1" findings={[findingOf('d')]} isLocked={false} />);
    expect(screen.queryByRole('button')).toBeNull();
  });
});
