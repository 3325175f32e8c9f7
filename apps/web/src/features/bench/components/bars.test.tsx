/**
 * @jest-environment jsdom
 */
// The bench's rows: what is looked at, the frames at a place, the brush, and what can be taken away.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { ReactElement } from 'react';
import type { SavedStroke } from '@blendrak/contract';
import { fakeServer, Refusal, type FakeServer } from '../../../testing/fakeServer';
import { jobOf, workOf } from '../../../testing/jobs';
import { mergeOf } from '../../../testing/merges';
import { useBench } from '../store';
import { BrushBar } from './BrushBar';
import { ExportMenu } from './ExportMenu';
import { LookBar } from './LookBar';
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
const strokeOf = (id: string, frame: number, undone = false): SavedStroke => ({
  ...{ id, frame, undone, points: [[10, 10]], sizePx: 20, hardness: 1, strength: 1 },
});

describe('what is looked at', () => {
  const bar = () => show(<LookBar merge={mergeOf([])} deep={null} onHelp={() => undefined} />);
  const pressed = (): (string | null)[] =>
    within(screen.getByLabelText('What is shown'))
      .getAllByRole('button')
      .filter((b) => b.getAttribute('aria-pressed') === 'true')
      .map((b) => b.textContent);

  it('is chosen for good; a held key shows something else and gives it back', () => {
    bar();
    expect(pressed()).toEqual(['Repaired']);
    fireEvent.click(screen.getByText('Before'));
    expect(useBench.getState().look).toEqual({ kind: 'before' });
    act(() => useBench.getState().set({ peek: { kind: 'frame', frame: 2 } }));
    expect(pressed()).toEqual(['Frame 3']);
    act(() => useBench.getState().set({ peek: null }));
    expect(pressed()).toEqual(['Before']);
  });

  it('names the frame that is looked at, and offers the one in hand', () => {
    bar();
    act(() => useBench.getState().takeDonor(1));
    fireEvent.click(screen.getByText('Frame 2'));
    expect(useBench.getState().look).toEqual({ kind: 'frame', frame: 1 });
    // Another frame in hand is the one that is looked at, and the label says so.
    act(() => useBench.getState().takeDonor(3));
    expect(pressed()).toEqual(['Frame 4']);
    expect(useBench.getState().look).toEqual({ kind: 'frame', frame: 3 });
  });

  it('marks and provenance are switched by themselves', () => {
    bar();
    const { showMarks, showProvenance } = useBench.getState();
    fireEvent.click(screen.getByText('Marks'));
    fireEvent.click(screen.getByText('Provenance'));
    expect(useBench.getState()).toMatchObject({ showMarks: !showMarks, showProvenance: !showProvenance });
  });

  it('says where the pointer is only while it is in the picture', () => {
    bar();
    act(() => useBench.getState().set({ pointer: { x: 12.4, y: 99.6 } }));
    expect(screen.getByText(/x 12 y 100/)).toBeTruthy();
    act(() => useBench.getState().set({ pointer: null }));
    expect(screen.queryByText(/x 12/)).toBeNull();
  });
});

describe('the frames at a place', () => {
  const measure = (sharpness: number) => ({
    ...{ sharpness, difference: 0, predictedError: 0, coverage: 1, shownShare: 0 },
  });

  it('invites to rest the pointer where there is no place', () => {
    show(<TraceStrip merge={mergeOf([])} fallback={null} />);
    expect(screen.getByText(/^Rest the pointer/)).toBeTruthy();
    expect(server.asked).toHaveLength(0);
  });

  it('are told apart: which is shown, which is sharpest; one is taken in hand and laid down again', async () => {
    server.answer('GET /api/merges/m1/probe?x=160&y=96&size=72', {
      ...{ x: 160, y: 96, shown: 1 },
      frames: [0.2, 0.5, 0.9, 0.4].map(measure),
    });
    show(<TraceStrip merge={mergeOf([])} fallback={{ x: 160, y: 96 }} />);
    await screen.findByLabelText('c.jpg, sharpest');
    const options = within(screen.getByLabelText('Frames at this place')).getAllByRole('option');
    expect(options.map((o) => o.getAttribute('aria-label'))).toEqual([
      'a.jpg',
      'b.jpg, shown now',
      'c.jpg, sharpest',
      'd.jpg',
    ]);
    expect(options[2]!.textContent).toContain('90 %');
    fireEvent.click(options[2]!);
    expect(useBench.getState().donor).toBe(2);
    expect(options[2]!.getAttribute('aria-selected')).toBe('true');
    fireEvent.click(options[2]!);
    expect(useBench.getState().donor).toBeNull();
  });

  it('are asked for once the pointer rests, on a grid, and once only', () => {
    jest.useFakeTimers();
    show(<TraceStrip merge={mergeOf([])} fallback={null} />);
    for (const x of [100, 105, 111]) {
      act(() => useBench.getState().set({ pointer: { x, y: 50 } }));
      act(() => void jest.advanceTimersByTime(60));
    }
    expect(server.asked).toHaveLength(0);
    act(() => void jest.advanceTimersByTime(60));
    expect(server.asked.map((a) => a.path)).toEqual(['/api/merges/m1/probe?x=112&y=48&size=72']);
    jest.useRealTimers();
  });

  it('at the rim are shown by patches that lie within the picture', () => {
    const { container } = show(<TraceStrip merge={mergeOf([])} fallback={{ x: 3, y: 799 }} />);
    expect(container.querySelector('img')!.getAttribute('src')).toContain('/iiif/f-m1-0/0,728,72,72/');
  });
});

describe('the brush', () => {
  const bar = (
    strokes: readonly SavedStroke[],
    saving: Parameters<typeof BrushBar>[0]['saving'] = { state: 'saved' },
  ) => {
    const done: string[] = [];
    show(
      <BrushBar
        merge={mergeOf([], { strokes })}
        saving={saving}
        onUndo={() => void done.push('undo')}
        onRedo={() => void done.push('redo')}
      />,
    );
    return done;
  };
  const isOff = (label: string): boolean => (screen.getByLabelText(label) as HTMLButtonElement).disabled;

  it('has its controls only with a frame in hand, and lays it down', () => {
    bar([]);
    expect(screen.queryByLabelText('Size')).toBeNull();
    act(() => useBench.getState().takeDonor(2));
    expect(screen.getByTitle('c.jpg').textContent).toBe('with 3');
    fireEvent.change(within(screen.getByLabelText('Size')).queryByRole('slider') ?? screen.getByLabelText('Size'), {
      target: { value: 120 },
    });
    expect(useBench.getState().brush.sizePx).toBe(120);
    fireEvent.click(screen.getByText('Done'));
    expect(useBench.getState().donor).toBeNull();
  });

  it('counts strokes in force; undo and redo are there when there is something for them', () => {
    const done = bar([strokeOf('s1', 0), strokeOf('s2', 0, true)]);
    expect(screen.getByText('1 stroke, saved')).toBeTruthy();
    expect([isOff('Undo'), isOff('Redo')]).toEqual([false, false]);
    fireEvent.click(screen.getByLabelText('Undo'));
    fireEvent.click(screen.getByLabelText('Redo'));
    expect(done).toEqual(['undo', 'redo']);
    cleanup();
    bar([]);
    expect([isOff('Undo'), isOff('Redo')]).toEqual([true, true]);
  });

  it('an unsent stroke can be undone, and one taken back before it was sent can be redone', () => {
    bar([], { state: 'retrying', count: 2 });
    expect(screen.getByText('server away: 2 kept, trying again')).toBeTruthy();
    expect(isOff('Undo')).toBe(false);
    const { id: _id, undone: _undone, ...stroke } = strokeOf('x', 1);
    act(() => useBench.getState().set({ takenBack: [{ id: 'other', mergeId: 'm2', stroke }] }));
    expect(isOff('Redo')).toBe(true);
    act(() => useBench.getState().set({ takenBack: [{ id: 'x', mergeId: 'm1', stroke }] }));
    expect(isOff('Redo')).toBe(false);
  });
});

describe('what can be taken away', () => {
  const open = (strokes: readonly SavedStroke[] = []): void => {
    show(<ExportMenu merge={mergeOf([], { strokes })} />);
    fireEvent.click(screen.getByText('Export'));
  };

  it('pictures, the report, and a mask for each frame that was painted with', () => {
    open([strokeOf('1', 3), strokeOf('2', 1), strokeOf('3', 3), strokeOf('4', 0, true)]);
    expect(screen.getAllByRole('menuitem').map((i) => i.textContent)).toEqual([
      'Flat TIFF, 16 bit',
      'Flat PNG, 16 bit',
      'JPEG',
      'Report (JSON)',
      'Mask of b.jpg (PNG)',
      'Mask of d.jpg (PNG)',
    ]);
    expect(screen.getByText('Report (JSON)').getAttribute('href')).toBe('/api/merges/m1/report.json');
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
