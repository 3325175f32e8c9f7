/**
 * @jest-environment jsdom
 */
// The bench's rows: what is looked at, the frames at a place, the brush, and what can be taken away.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { ReactElement } from 'react';
import { bindCommands, type Command } from '../../../shared/commands/keys';
import { fakeServer, Refusal, type FakeServer } from '../../../testing/fakeServer';
import { jobOf, workOf } from '../../../testing/jobs';
import { listOf, mergeOf, operationOf, strokeOf } from '../../../testing/merges';
import { useBench } from '../store';
import { COMMANDS } from '../commands';
import { createHover, type Hover } from '../hover';
import { ExportMenu } from './ExportMenu';
import { LookBar } from './LookBar';
import { StripHandle } from './StripHandle';
import { ToolBar } from './ToolBar';
import { TraceStrip } from './TraceStrip';

let server: FakeServer;
const start = useBench.getState();
beforeEach(() => {
  server = fakeServer({});
  useBench.setState(start, true);
});
afterEach(() => {
  cleanup();
  server.restore();
});
const show = (element: ReactElement) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <SnackbarProvider>{element}</SnackbarProvider>
    </QueryClientProvider>,
  );

/** All commands, each of which says when it was called. */
function commandsThat(done: string[], off: readonly string[] = []): Readonly<Record<string, Command>> {
  const actions = Object.keys(COMMANDS).map((id) => [id, { isEnabled: !off.includes(id), run: () => done.push(id) }]);
  return bindCommands(COMMANDS, Object.fromEntries(actions) as Parameters<typeof bindCommands>[1]);
}

describe('what is looked at', () => {
  const bar = (hover: Hover = createHover()): string[] => {
    const done: string[] = [];
    show(
      <LookBar merge={mergeOf([])} deep={null} hover={hover} commands={commandsThat(done)} onMask={() => undefined} />,
    );
    return done;
  };
  const pressed = (): (string | null)[] =>
    within(screen.getByLabelText('What is shown'))
      .getAllByRole('button')
      .filter((b) => b.getAttribute('aria-pressed') === 'true')
      .map((b) => b.textContent);

  it('is chosen for good; a held key shows something else and gives it back', () => {
    bar();
    expect(pressed()).toEqual(['Repaired']);
    fireEvent.click(screen.getByText('Before'));
    expect(useBench.getState().look).toEqual({ id: 'before', frame: 0 });
    act(() => useBench.getState().set({ peek: { id: 'frame', frame: 2 } }));
    expect(pressed()).toEqual(['Frame 3']);
    act(() => useBench.getState().set({ peek: null }));
    expect(pressed()).toEqual(['Before']);
  });

  it('names the frame that is looked at, and offers the one in hand', () => {
    bar();
    act(() => useBench.getState().takeDonor(1));
    fireEvent.click(screen.getByText('Frame 2'));
    expect(useBench.getState().look).toEqual({ id: 'frame', frame: 1 });
    // Another frame in hand is the one that is looked at, and the label says so.
    act(() => useBench.getState().takeDonor(3));
    expect(pressed()).toEqual(['Frame 4']);
    expect(useBench.getState().look).toEqual({ id: 'frame', frame: 3 });
  });

  it('marks, provenance and the sheet are called by their commands', () => {
    const done = bar();
    for (const word of ['Marks', 'Provenance', 'Keys ?']) fireEvent.click(screen.getByText(word));
    expect(done).toEqual(['marks', 'provenance', 'sheet']);
  });

  it('says where the pointer is only while it is in the picture, without being rendered anew', () => {
    const hover = createHover();
    bar(hover);
    hover.move({ x: 12.4, y: 99.6 });
    expect(screen.getByText(/x 12 y 100/)).toBeTruthy();
    hover.move(null);
    expect(screen.queryByText(/x 12/)).toBeNull();
  });
});

describe('the frames at a place', () => {
  const measure = (sharpness: number, coverage = 1) => ({
    ...{ sharpness, difference: 0, predictedError: 0, coverage, shownShare: 0 },
  });
  const patches = 'data:image/jpeg;base64,AAAA';
  const options = () => within(screen.getByLabelText('Frames at this place')).getAllByRole('option');
  const probe = { x: 160, y: 96, shown: 1, patches, patchCount: 4, patchPx: 72 };

  it('invites to rest the pointer where there is no place', () => {
    show(<TraceStrip merge={mergeOf([])} fallback={null} />);
    expect(screen.getByText(/^Rest the pointer/)).toBeTruthy();
    expect(server.asked).toHaveLength(0);
  });

  it('are told apart: which is shown, which is sharpest; one is taken in hand and laid down again', async () => {
    const frames = [measure(0.2), measure(0.5), measure(0.9), measure(0, 0)];
    server.answer('GET /api/merges/m1/probe?x=160&y=96&size=72', { ...probe, frames });
    show(<TraceStrip merge={mergeOf([])} fallback={{ x: 160, y: 96 }} />);
    await screen.findByLabelText('c.jpg, sharpest');
    expect(options().map((o) => o.getAttribute('aria-label'))).toEqual([
      'a.jpg',
      'b.jpg, shown now',
      'c.jpg, sharpest',
      'd.jpg, not here',
    ]);
    expect([options()[2]!.textContent, options()[3]!.textContent]).toEqual(['3◆90', 'not here4']);
    fireEvent.click(options()[2]!);
    expect(useBench.getState()).toMatchObject({ donor: 2, tool: 'paint' });
    expect(options()[2]!.getAttribute('aria-selected')).toBe('true');
    fireEvent.click(options()[2]!);
    expect(useBench.getState()).toMatchObject({ donor: null, tool: null });
  });

  it('are asked for in one request, measures and pictures alike, and anew when the picture has changed there', async () => {
    const frames = [0.2, 0.5, 0.9, 0.4].map((v) => measure(v));
    server.answer('GET /api/merges/m1/probe?x=160&y=96&size=72', { ...probe, frames });
    const strip = (operations: Parameters<typeof mergeOf>[1]) => (
      <QueryClientProvider client={client}>
        <TraceStrip merge={mergeOf([], operations)} fallback={{ x: 160, y: 96 }} />
      </QueryClientProvider>
    );
    const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    const { container, rerender } = render(strip({}));
    await screen.findByLabelText('c.jpg, sharpest');
    const probes = () => server.asked.filter((a) => a.path.includes('/probe'));
    expect(probes()).toHaveLength(1);
    expect(container.querySelectorAll('img')).toHaveLength(0);
    const elsewhere = operationOf('x', 1, strokeOf(0, [[900, 700]]));
    rerender(strip({ operations: [elsewhere] }));
    rerender(strip({ operations: [elsewhere, operationOf('y', 2, strokeOf(0, [[150, 100]]))] }));
    await waitFor(() => expect(probes()).toHaveLength(2));
    await new Promise((done) => setTimeout(done, 50));
    expect(probes()).toHaveLength(2);
  });

  it('end with other merges of the set, which are painted with by the numbers after theirs; further ones are made there', async () => {
    const frames = [0.2, 0.5, 0.9, 0.4].map((v) => measure(v));
    const address = 'GET /api/merges/m1/probe?x=160&y=96&size=72';
    server.answer(address, { ...probe, patchCount: 5, frames });
    server.answer('GET /api/jobs/j1', jobOf({}));
    server.answer('POST /api/merges/m1/sources', workOf({ id: 'w9', kind: 'source', status: 'queued' }));
    const source = { id: 's1', method: 'labels', name: 'own merge, sharpest frame' } as const;
    const merge = mergeOf([], { origin: 'imported', sources: [source] });
    show(
      <>
        <ToolBar
          merge={merge}
          foreseen={{ operations: [], undoable: 0, redoable: 0 }}
          saving={{ state: 'saved' }}
          isWorking={false}
          commands={commandsThat([])}
        />
        <TraceStrip merge={merge} fallback={{ x: 160, y: 96 }} />
      </>,
    );
    fireEvent.click(await screen.findByLabelText('own merge, sharpest frame'));
    expect(useBench.getState()).toMatchObject({ donor: 4, tool: 'paint' });
    expect(screen.getByTitle('own merge, sharpest frame').textContent).toBe('with M1');
    fireEvent.click(screen.getByLabelText('Another merge to paint with'));
    const names = screen.getAllByRole('menuitem').map((item) => item.textContent);
    expect(names.map((name) => /^(Band by band|Reference first)/.exec(name ?? '')?.[0])).toEqual([
      'Band by band',
      'Reference first',
    ]);
    // While it is being made that is told in its place, and can be cancelled.
    server.answer('GET /api/jobs/j1', jobOf({}, undefined, [workOf({ id: 'w9', kind: 'source' })]));
    server.answer('POST /api/jobs/work/w9/cancel', {});
    fireEvent.click(screen.getAllByRole('menuitem')[0]!);
    fireEvent.click(await screen.findByTitle('Being merged to paint with: click to cancel'));
    await waitFor(() =>
      expect(server.sent('POST').map((a) => a.path)).toEqual(['/api/merges/m1/sources', '/api/jobs/work/w9/cancel']),
    );
  });

  it('are one stop for the tabulator; arrows walk along them', async () => {
    server.answer('GET /api/merges/m1/probe?x=160&y=96&size=72', {
      ...probe,
      frames: [0.2, 0.5, 0.9, 0.4].map((v) => measure(v)),
    });
    show(<TraceStrip merge={mergeOf([])} fallback={{ x: 160, y: 96 }} />);
    await screen.findByLabelText('c.jpg, sharpest');
    const stops = (): number[] => options().map((o) => o.tabIndex);
    expect(stops()).toEqual([0, -1, -1, -1]);
    act(() => options()[0]!.focus());
    fireEvent.keyDown(options()[0]!, { key: 'ArrowRight' });
    expect(document.activeElement).toBe(options()[1]);
    fireEvent.keyDown(options()[1]!, { key: 'End' });
    fireEvent.keyDown(options()[3]!, { key: 'ArrowRight' });
    expect(document.activeElement).toBe(options()[3]);
    expect(stops()).toEqual([-1, -1, -1, 0]);
  });

  it('have the height that they are given, within limits', () => {
    show(<StripHandle />);
    const handle = screen.getByRole('separator');
    const { patchPx } = useBench.getState().layout;
    fireEvent.keyDown(handle, { key: 'ArrowUp' });
    expect(useBench.getState().layout.patchPx).toBe(patchPx + 8);
    for (let k = 0; k < 30; k++) fireEvent.keyDown(handle, { key: 'ArrowUp' });
    expect([handle.getAttribute('aria-valuenow'), handle.getAttribute('aria-valuemax')]).toEqual(['140', '140']);
  });
});

describe('the tools', () => {
  const bar = (
    { merge = mergeOf([]), off = [] as string[], count = 0 },
    saving: Parameters<typeof ToolBar>[0]['saving'] = { state: 'saved' },
  ): string[] => {
    const done: string[] = [];
    const { items: operations, ...counts } = listOf(Array.from({ length: count }, (_, k) => operationOf(`${k}`, k)));
    show(
      <ToolBar
        merge={merge}
        foreseen={{ operations, ...counts }}
        saving={saving}
        isWorking={false}
        commands={commandsThat(done, off)}
      />,
    );
    return done;
  };
  const isOff = (label: string): boolean => (screen.getByLabelText(label) as HTMLButtonElement).disabled;

  it('have their settings only while in hand, and are laid down by the same button', () => {
    const done = bar({});
    expect(screen.queryByLabelText('Size')).toBeNull();
    fireEvent.click(screen.getByText('Paint'));
    expect(done).toEqual(['tool-paint']);
    act(() => useBench.getState().takeDonor(2));
    expect(screen.getByTitle('c.jpg').textContent).toBe('with 3');
    fireEvent.change(within(screen.getByLabelText('Size')).queryByRole('slider') ?? screen.getByLabelText('Size'), {
      target: { value: 120 },
    });
    expect(useBench.getState().brush.sizePx).toBe(120);
    fireEvent.click(screen.getByText('Paint'));
    expect(useBench.getState().tool).toBeNull();
  });

  it('count what there is; undo and redo are there when their commands are', () => {
    const done = bar({ count: 1 });
    expect(screen.getByText('1 stroke, saved')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Undo'));
    fireEvent.click(screen.getByLabelText('Redo'));
    expect(done).toEqual(['undo', 'redo']);
    cleanup();
    bar({ off: ['undo', 'redo'] });
    expect([isOff('Undo'), isOff('Redo')]).toEqual([true, true]);
  });

  it('say when what was done has not reached the server', () => {
    bar({ count: 2 }, { state: 'retrying', count: 2 });
    expect(screen.getByText('server away: 2 kept, trying again')).toBeTruthy();
  });
});

describe('what can be taken away', () => {
  const masks: [donor: number, name: string][] = [];
  const open = (donors: readonly (number | null)[] = []): void => {
    const operations = donors.map((donor, k) => operationOf(`o${k}`, k, { donor, enabled: donor !== 0 }));
    show(<ExportMenu merge={mergeOf([], { operations })} onMask={(donor, file) => masks.push([donor, file.name])} />);
    fireEvent.click(screen.getByText('Export'));
  };

  it('pictures, the report, and a mask for each frame that was painted with', () => {
    open([3, 1, 3, 0, null]);
    expect(screen.getAllByRole('menuitem').map((i) => i.textContent)).toEqual([
      'Flat TIFF, 16 bit',
      'Flat PNG, 16 bit',
      'JPEG',
      'Report (JSON)',
      'Web Annotations (JSON-LD)',
      'Mask of b.jpg (PNG)',
      'Mask of d.jpg (PNG)',
      'Read a report …',
      'Read a mask: pick a frame first',
      'Repairs of another job …',
    ]);
    expect(screen.getByText('Report (JSON)').getAttribute('href')).toBe('/api/merges/m1/report.json');
  });

  it('a mask is read for the frame in hand', () => {
    useBench.setState({ donor: 2 });
    open();
    expect(screen.getByText('Read a mask for c.jpg …')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Mask file'), { target: { files: [new File(['x'], 'rail.png')] } });
    expect(masks).toEqual([[2, 'rail.png']]);
    useBench.setState({ donor: null });
  });

  it('repairs of another job of the kind are taken over, and what was left is said', async () => {
    server.answer('GET /api/jobs', [
      jobOf().summary,
      { ...jobOf().summary, id: 'j2', name: 'Plate two', mergeId: 'm2' },
      { ...jobOf().summary, id: 'j3', name: 'A room', kind: 'bracket', mergeId: 'm3' },
    ]);
    server.answer('POST /api/merges/m1/copies', { taken: 2, left: 1 });
    open();
    fireEvent.click(screen.getByText('Repairs of another job …'));
    fireEvent.click(await screen.findByText('Plate two'));
    expect(screen.queryByText('A room')).toBeNull();
    await screen.findByText('2 repairs taken over; 1 left, matched to the tone of that picture.');
  });

  it('a picture is rendered with progress and fetched by itself once it is done', async () => {
    const rendering = workOf({ id: 'e1', kind: 'export', message: 'rows 100 of 800' });
    server.answer('GET /api/jobs/j1', jobOf({}, undefined, [rendering]));
    server.answer('POST /api/merges/m1/exports', rendering);
    const fetched: string[] = [];
    const click = jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLElement) {
      fetched.push(this.getAttribute('href')!);
    });
    open();
    fireEvent.click(screen.getByText('Flat PNG, 16 bit'));
    expect(await screen.findByText('Rendering: rows 100 of 800')).toBeTruthy();
    expect(server.sent('POST')[0]!.body).toEqual({ format: 'png' });
    // While one is rendered no second is asked for.
    fireEvent.click(screen.getByText('Export'));
    expect(screen.getByText('JPEG').getAttribute('aria-disabled')).toBe('true');
    server.answer('POST /api/merges/m1/exports', new Refusal(409, 'never asked'));
    server.answer('GET /api/jobs/j1', jobOf({}, undefined, [{ ...rendering, status: 'done', progress: 1 }]));
    cleanup();
    server.answer('POST /api/merges/m1/exports', rendering);
    open();
    fireEvent.click(screen.getByText('JPEG'));
    await waitFor(() => expect(fetched).toEqual(['/api/exports/e1']));
    click.mockRestore();
  });

  it('a report is read back: what came of it is said, and what is no report is named', async () => {
    server.answer('POST /api/merges/m1/report', { taken: 2, known: 1 });
    open();
    const choose = (text: string): void => {
      const file = new File([text], 'r.json', { type: 'application/json' });
      // Where tests run, files cannot tell their text.
      Object.defineProperty(file, 'text', { value: () => Promise.resolve(text) });
      fireEvent.change(screen.getByLabelText('Report file'), { target: { files: [file] } });
    };
    choose('{"format":"blendrak-report"}');
    expect(await screen.findByText('r.json: 2 taken over, 1 known already.')).toBeTruthy();
    expect(server.sent('POST')[0]!.body).toEqual({ format: 'blendrak-report' });
    cleanup();
    open();
    choose('words');
    expect(await screen.findByText(/r\.json: this is no JSON\. Accepted/)).toBeTruthy();
  });

  it('a refusal is said until it was read', async () => {
    server.answer('GET /api/jobs/j1', jobOf());
    server.answer(
      'POST /api/merges/m1/exports',
      new Refusal(507, 'The disk is full: 12 MB are left, 96 MB are needed.'),
    );
    open();
    fireEvent.click(screen.getByText('JPEG'));
    expect(await screen.findByText(/12 MB are left/)).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Close'));
    await waitFor(() => expect(screen.queryByText(/12 MB are left/)).toBeNull());
  });
});
