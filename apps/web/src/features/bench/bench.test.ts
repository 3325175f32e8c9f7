// The bench without a screen: commands, evidence in words, and the editing state that outlives the page.
import { findingOf, mergeOf } from '../../testing/merges';
import { commandFor, nameOfKey, type Command } from '../../shared/commands/keys';
import { COMMANDS } from './commands';
import { evidenceOf } from './evidenceWords';
import { undoStep } from './outbox';
import { useBench } from './store';
import { verdictOf } from './verdict';

const finding = findingOf('f1', { cause: '', advice: '' });

describe('commands', () => {
  it('have keys of their own, each key once', () => {
    const keys = Object.values<Command>(COMMANDS).flatMap((c) => c.keys);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('are filed under their own id', () => {
    for (const [id, command] of Object.entries(COMMANDS)) expect(command.id).toBe(id);
  });
});

describe('keys', () => {
  const press = (key: string, mods: Partial<Parameters<typeof nameOfKey>[0]> = {}) => ({
    key,
    ...{ shiftKey: false, ctrlKey: false, metaKey: false, altKey: false },
    ...mods,
  });
  const called = (...p: Parameters<typeof press>) => commandFor(Object.values<Command>(COMMANDS), press(...p))?.id;

  it('call a command by what they say, however a keyboard types it', () => {
    expect(called('?', { shiftKey: true })).toBe('sheet');
    expect(called('?')).toBe('sheet');
    expect(called('+')).toBe('closer');
    expect(called('+', { shiftKey: true })).toBe('closer');
    expect(called('0', { shiftKey: true })).toBe('fit');
    expect(called('?', { ctrlKey: true, altKey: true })).toBe('sheet');
  });

  it('tell a letter from the same with Shift, with caps lock on, too', () => {
    expect([called('u'), called('U', { shiftKey: true })]).toEqual(['undo', 'redo']);
    expect([called('z', { ctrlKey: true }), called('Z', { metaKey: true, shiftKey: true })]).toEqual(['undo', 'redo']);
    expect(called('U')).toBe('undo');
  });

  it('leave to the browser what is no command', () => {
    expect([called('p', { ctrlKey: true }), called('w', { metaKey: true }), called('n', { altKey: true })]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
    expect([nameOfKey(press('Shift', { shiftKey: true })), nameOfKey(press('Dead'))]).toEqual([null, null]);
  });
});

describe('the verdict', () => {
  it('names what is most pressing', () => {
    const plain = findingOf('a', { severity: 80 });
    const lost = findingOf('b', { severity: 70, repairable: false, donor: null });
    const faint = findingOf('c', { severity: 25 });
    const settled = findingOf('d', { decision: 'repaired' });
    expect(verdictOf(mergeOf([plain, lost, faint]))).toBe('1 plain defect that no frame repairs');
    expect(verdictOf(mergeOf([plain, plain, faint]))).toBe('2 plain defects to repair');
    expect(verdictOf(mergeOf([faint, settled]))).toBe('1 faint finding to settle');
    expect(verdictOf(mergeOf([settled, findingOf('e', { decision: 'reshoot' })]))).toBe('To be shot again');
    expect(verdictOf(mergeOf([settled]))).toBe('All findings are settled');
    expect(verdictOf(mergeOf([]))).toBe('Nothing found');
    expect(verdictOf(mergeOf([], { lookedFor: [] }))).toBe('Not inspected');
  });
});

describe('what is looked at', () => {
  it('a peek lies over the look and leaves it as it was', () => {
    const { set } = useBench.getState();
    set({ look: { kind: 'before' } });
    set({ peek: { kind: 'frame', frame: 2 } });
    set({ peek: null });
    expect(useBench.getState().look).toEqual({ kind: 'before' });
  });

  it('a frame that is looked at follows the frame in hand', () => {
    const { set, takeDonor } = useBench.getState();
    set({ look: { kind: 'frame', frame: 1 } });
    takeDonor(4);
    expect(useBench.getState()).toMatchObject({ donor: 4, look: { kind: 'frame', frame: 4 } });
    takeDonor(null);
    expect(useBench.getState()).toMatchObject({ donor: null, look: { kind: 'frame', frame: 4 } });
    set({ look: { kind: 'repaired' } });
    takeDonor(3);
    expect(useBench.getState().look).toEqual({ kind: 'repaired' });
  });
});

describe('evidence in words', () => {
  it('turns a loss of two octaves of energy into half the detail', () => {
    const words = evidenceOf({ ...finding, measurements: { detailLoss: { value: 2, unit: 'log2' } } });
    expect(words).toContainEqual(['Detail left in the merge', '50 %']);
    expect(words).toContainEqual(['Donor sharper by', '2.0 ×']);
    expect(words).toContainEqual(['Confidence', '91 %']);
    expect(words).toContainEqual(['Size', '120 × 80 px']);
  });

  it('names what belongs to each defect and nothing else', () => {
    const halo = evidenceOf({
      ...finding,
      defect: 'halo',
      measurements: { spreadLight: { value: 3.14, unit: '% of full scale' } },
    }).map(([name]) => name);
    expect(halo).toEqual(['Visibility', 'Spread light', 'Confidence', 'Size']);
    const gap = evidenceOf({
      ...finding,
      defect: 'focus-gap',
      donor: null,
      measurements: { unresolvedBlur: { value: 0.871, unit: 'px' }, stepBlur: { value: 2.09, unit: 'px' } },
    });
    expect(gap).toContainEqual(['Blur no frame resolves', '0.87 px σ']);
    expect(gap).toContainEqual(['Blur of that focus step', '2.09 px σ']);
    const misplaced = evidenceOf({
      ...finding,
      defect: 'misalignment',
      measurements: { unexplained: { value: 4.21, unit: 'variance over detail' } },
    });
    expect(misplaced).toContainEqual(['Unlike every frame', '4.2 × their detail']);
  });
});

describe('strokes the server has not acknowledged', () => {
  const pending = (id: string) => ({
    id,
    mergeId: 'm1',
    stroke: { frame: 0, points: [[1, 1] as [number, number]], sizePx: 10, hardness: 1, strength: 1 },
  });

  it('wait in the order they were made and leave one by one', () => {
    const { enqueue, acknowledge } = useBench.getState();
    for (const id of ['one', 'two', 'three']) enqueue(pending(id));
    acknowledge('two');
    expect(useBench.getState().pending.map((p) => p.id)).toEqual(['one', 'three']);
    acknowledge('two');
    acknowledge('one');
    acknowledge('three');
    expect(useBench.getState().pending).toEqual([]);
  });

  it('undo takes back the one painted last: an unsent one from the row, one on its way after it arrived', () => {
    const [one, two] = [pending('one'), pending('two')];
    expect(undoStep([])).toEqual({ kind: 'ask' });
    expect(undoStep([one])).toEqual({ kind: 'wait' });
    expect(undoStep([one, two])).toEqual({ kind: 'drop', stroke: two });
  });
});
