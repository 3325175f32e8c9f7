// The bench without a screen: commands, evidence in words, and the editing state that outlives the page.
import type { Finding } from '@blendrak/contract';
import { COMMANDS, type Command } from './commands';
import { evidenceOf } from './evidenceWords';
import { useBench } from './store';

const finding: Finding = {
  id: 'f1',
  mergeId: 'm1',
  defect: 'soft-patch',
  bbox: { x: 10, y: 20, width: 120, height: 80 },
  polygon: [
    [10, 20],
    [130, 20],
    [130, 100],
  ],
  severity: 62,
  confidence: 0.912,
  cause: '',
  advice: '',
  measurements: {},
  frames: [],
  donor: 3,
  gain: 2.04,
  repairable: true,
  decision: 'open',
  reason: '',
  recheck: '',
};

describe('commands', () => {
  it('have keys of their own, each key once', () => {
    const keys = Object.values<Command>(COMMANDS).flatMap((c) => c.keys.split(','));
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('are filed under their own id', () => {
    for (const [id, command] of Object.entries(COMMANDS)) expect(command.id).toBe(id);
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
});
