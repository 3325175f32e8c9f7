// The bench without a screen: commands, looks and tools as data, evidence in words.
import { handOrderSchema, newOperationSchema } from '@blendrak/contract';
import { placeOperation, tileState } from '@blendrak/core/repair';
import { findingOf, mergeOf, strokeOf } from '../../testing/merges';
import { bindCommands, commandFor, nameOfKey } from '../../shared/commands/keys';
import { COMMANDS } from './commands';
import { donorMark } from './donors';
import { evidenceOf } from './evidenceWords';
import { LOOKS, lookOf, showsRepair } from './looks';
import { drawMask } from './operations/drawMask';
import { viewerLayer } from './pictures';
import { useBench } from './store';
import { TOOLS, toolOf } from './tools';
import { verdictOf } from './verdict';

const finding = findingOf('f1', { cause: '', advice: '' });

describe('commands', () => {
  it('have keys of their own, each key once', () => {
    const keys = Object.values(COMMANDS).flatMap((c) => c.keys);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('are filed under their own id', () => {
    for (const [id, command] of Object.entries(COMMANDS)) expect(command.id).toBe(id);
  });

  it('are those of all tools and looks, too', () => {
    for (const { id, words } of TOOLS) expect(COMMANDS[`tool-${id}`]).toMatchObject(words);
    for (const { id, key } of LOOKS) {
      expect(COMMANDS[`peek-${id}`]).toMatchObject({ label: key.label, keys: [key.letter], hold: true });
      expect(COMMANDS[`look-${id}`]?.keys).toEqual([`Shift+${key.letter}`]);
    }
  });

  it('carry what they do, and whether they can be called', () => {
    const words = { go: { id: 'go', label: 'Go', keys: ['g'], shown: 'G' } };
    const done: boolean[] = [];
    expect(bindCommands(words, { go: (pressed) => done.push(pressed) }).go.isEnabled).toBe(true);
    const off = bindCommands(words, { go: { isEnabled: false, run: () => undefined } }).go;
    expect([off.isEnabled, off.label]).toEqual([false, 'Go']);
  });
});

describe('keys', () => {
  const press = (key: string, mods: Partial<Parameters<typeof nameOfKey>[0]> = {}) => ({
    key,
    ...{ shiftKey: false, ctrlKey: false, metaKey: false, altKey: false },
    ...mods,
  });
  const called = (...p: Parameters<typeof press>) => commandFor(Object.values(COMMANDS), press(...p))?.id;

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
    set({ look: { id: 'before', frame: 0 } });
    set({ peek: { id: 'frame', frame: 2 } });
    set({ peek: null });
    expect(useBench.getState().look).toEqual({ id: 'before', frame: 0 });
  });

  it('a frame that is looked at follows the frame in hand', () => {
    const { set, takeDonor } = useBench.getState();
    set({ look: { id: 'frame', frame: 1 } });
    takeDonor(4);
    expect(useBench.getState()).toMatchObject({ donor: 4, tool: 'paint', look: { id: 'frame', frame: 4 } });
    takeDonor(null);
    expect(useBench.getState()).toMatchObject({ donor: null, tool: null, look: { id: 'frame', frame: 4 } });
  });

  it('every look is panes of layers; work goes on in the last one', () => {
    const merge = mergeOf([]);
    const sight = { frame: 2, isOther: false, partedAt: 300 };
    for (const look of LOOKS) {
      const panes = look.panes(merge, sight);
      expect(panes.length).toBeGreaterThan(0);
      for (const { layers } of panes) expect(layers.length).toBeGreaterThan(0);
      expect(look.label(donorMark(merge, 2))).not.toBe('');
    }
    expect(lookOf('frame').panes(merge, sight)).toEqual([{ layers: [{ of: { frame: 2 } }] }]);
    expect(lookOf('four').panes(merge, sight)).toHaveLength(4);
    const turns = [false, true].map(
      (isOther) => lookOf('inTurn').panes(merge, { ...sight, isOther })[0]!.layers[0]!.of,
    );
    expect(turns).toEqual(['repaired', { frame: 2 }]);
    expect(lookOf('beside').panes(merge, sight).at(-1)!.layers[0]!.of).toBe('repaired');
  });

  it('it is painted only on what shows the repaired picture as it is', () => {
    const sight = { frame: 1, isOther: false, partedAt: 300 };
    const paintable = LOOKS.filter((look) => showsRepair(look.panes(mergeOf([]), sight).at(-1)!));
    expect(paintable.map((l) => l.id)).toEqual(['repaired', 'beside', 'inTurn', 'four']);
  });

  it('a frame left of a line is cut there; a map is a picture of its own', () => {
    const merge = mergeOf([]);
    const nothing = { inForce: [], proposed: null };
    const [pane] = lookOf('parted').panes(merge, { frame: 1, isOther: false, partedAt: 300 });
    const [whole, cut] = pane!.layers.map((layer) => viewerLayer(merge, layer, nothing));
    expect([whole!.id, whole!.clip, cut!.id]).toEqual(['r-m1', undefined, 'f-m1-1']);
    expect(cut!.clip).toEqual({ x: 0, y: 0, width: 300, height: 800 });
    expect(viewerLayer(merge, { of: { map: 'risk' } }, nothing).id).toBe('e-m1-risk');
  });

  it('only the repaired picture changes with operations, and of it only the parts that they reach', () => {
    const merge = mergeOf([]);
    const painted = [placeOperation({ id: 'a', ...strokeOf(1, [[700, 100]]) })];
    const proposed = placeOperation({ id: 'p', ...strokeOf(2, [[300, 100]]) });
    const far = { x: 0, y: 0, width: 512, height: 512 };
    const near = { x: 512, y: 0, width: 512, height: 512 };
    const repaired = viewerLayer(merge, { of: 'repaired' }, { inForce: painted, proposed });
    expect([repaired.id, repaired.revision, repaired.versionAt(far, 512)]).toEqual(['r-m1', 'a', '0']);
    expect(repaired.versionAt(near, 512)).toBe(tileState(painted, near, 512));
    const before = viewerLayer(merge, { of: 'before', opacity: 0.5 }, { inForce: painted, proposed });
    expect([before.id, before.revision, before.versionAt(near, 512), before.opacity]).toEqual(['m-m1', '', '0', 0.5]);
    const kept = viewerLayer(merge, { of: 'proposed' }, { inForce: painted, proposed });
    expect([kept.id, kept.revision]).toEqual(['r-m1', 'a p']);
    expect(kept.versionAt(far, 512)).toBe(tileState([proposed], far, 512));
    expect(viewerLayer(merge, { of: 'proposed' }, { inForce: painted, proposed: null }).revision).toBe('a');
    expect(viewerLayer(merge, { of: { frame: 3 } }, { inForce: painted, proposed }).id).toBe('f-m1-3');
  });
});

describe('the tools', () => {
  const brush = { sizePx: 40, hardness: 0.5, strength: 0.75 };
  const picture = { width: 800, height: 600 };
  const at = (x: number, y: number, pressure = 1) => ({ x, y, pressure });

  it('are filed under ids of their own', () => {
    for (const tool of TOOLS) expect(toolOf(tool.id)).toBe(tool);
  });

  it('painting needs a frame, and makes one stroke of all samples, with the brush as it was at its beginning', () => {
    const paint = toolOf('paint');
    expect([paint.isReady({ donor: null }), paint.isReady({ donor: 0 })]).toEqual([false, true]);
    const begun = paint.begin(at(10.123, 20), { donor: 2, brush, picture });
    const [still, nothing] = paint.extend(begun, [at(10.2, 20.1)]);
    expect([still, nothing]).toEqual([begun, null]);
    const [draft, grown] = paint.extend(begun, [at(14, 20, 0.5), at(18, 20)]);
    expect(grown).toEqual({
      donor: 2,
      piece: { kind: 'stroke', points: [[10.12, 20], [14, 20, 0.5], [18, 20]], ...brush }, // prettier-ignore
    });
    const operation = { kind: 'paint', donor: 2, shape: grown!.piece };
    expect(paint.finish(draft)).toEqual({ kind: 'change', operation });
    expect(newOperationSchema.safeParse(operation).success).toBe(true);
  });

  it('taking back needs no frame: the merge itself is painted', () => {
    const tool = toolOf('takeBack');
    expect(tool.isReady({ donor: null })).toBe(true);
    const begun = tool.begin(at(5, 5), { donor: 2, brush, picture });
    const shape = { kind: 'stroke', points: [[5, 5]], ...brush };
    expect(tool.finish(begun)).toEqual({ kind: 'change', operation: { kind: 'paint', donor: null, shape } });
  });

  it.each([
    ['alongLine', 'line'],
    ['acrossEdge', 'edge'],
    ['bothSides', 'patch'],
  ] as const)('%s measures from where it was put down to where it is lifted, and paints nothing', (id, kind) => {
    const tool = toolOf(id);
    expect(tool.isReady({ donor: null })).toBe(true);
    const begun = tool.begin(at(10, 20), { donor: null, brush, picture });
    expect([tool.shown(begun), tool.finish(begun)]).toEqual([null, null]);
    const [draft, grown] = tool.extend(begun, [at(30, 20), at(60, 80)]);
    expect(grown).toBeNull();
    expect(tool.finish(draft)).toEqual({ kind: 'measure', pin: { kind, from: [10, 20], to: [60, 80] } });
  });

  it('a whole thing is asked for from the frame in hand when it was begun; without one it cannot be begun', () => {
    const tool = toolOf('whole');
    expect([tool.isReady({ donor: null }), tool.isReady({ donor: 3 })]).toEqual([false, true]);
    const begun = tool.begin(at(10, 10), { donor: 3, brush, picture });
    expect(tool.finish(begun)).toBeNull();
    const [draft] = tool.extend(begun, [at(40, 10), at(40, 40), at(10, 40)]);
    expect(tool.finish(draft)).toEqual({ kind: 'order', order: { kind: 'fit', donor: 3, polygon: [[10, 10], [40, 10], [40, 40], [10, 40]] } }); // prettier-ignore
  });

  it('a fade goes from where it was begun to where it ends, over the whole picture', () => {
    const tool = toolOf('fade');
    const [draft] = tool.extend(tool.begin(at(100, 50), { donor: 1, brush, picture }), [at(120, 50), at(300, 50)]);
    const bounds = { x: 0, y: 0, ...picture };
    const shape = { kind: 'fade', from: [100, 50], to: [300, 50], bounds, strength: 0.75 };
    expect(tool.finish(draft)).toEqual({ kind: 'change', operation: { kind: 'paint', donor: 1, shape } });
  });

  it('a round fade is drawn from its middle outwards', () => {
    const tool = toolOf('round');
    const [draft] = tool.extend(tool.begin(at(100, 50), { donor: 1, brush, picture }), [at(160, 130)]);
    const shape = { kind: 'stroke', points: [[100, 50]], sizePx: 200, hardness: 0.5, strength: 0.75 };
    expect(tool.finish(draft)).toEqual({ kind: 'change', operation: { kind: 'paint', donor: 1, shape } });
  });

  it('an outline is drawn in one go, or from corner to corner until it meets one of its ends', () => {
    const tool = toolOf('area');
    const start = { donor: 1, brush, picture };
    const points = [[10, 10], [60, 10], [60, 60]]; // prettier-ignore
    const shape = { kind: 'outline', points, growPx: 0, featherPx: 20, strength: 0.75 };
    const done = { kind: 'change', operation: { kind: 'paint', donor: 1, shape } };
    const [byHand] = tool.extend(tool.begin(at(10, 10), start), [at(60, 10), at(60, 60)]);
    expect(tool.finish(byHand)).toEqual(done);
    let corners = tool.begin(at(10, 10), start);
    for (const [x, y] of points.slice(1) as [number, number][]) {
      expect(tool.finish(corners)).toEqual({ kind: 'goOn' });
      corners = tool.begin(at(x, y), start, corners);
    }
    expect(tool.finish(corners)).toEqual({ kind: 'goOn' });
    for (const [x, y] of [
      [12, 9],
      [60, 62],
    ] as const)
      // prettier-ignore
      expect(tool.finish(tool.begin(at(x, y), start, corners))).toEqual(done);
  });

  it('a nudge moves what is under the brush, and gives it room enough not to fold the picture over', () => {
    const tool = toolOf('nudge');
    const nudged = (dx: number) => {
      const [draft] = tool.extend(tool.begin(at(100, 100), { donor: null, brush, picture }), [at(100 + dx, 100)]);
      const outcome = tool.finish(draft);
      if (outcome?.kind !== 'change') throw new Error('expected a change');
      expect(newOperationSchema.safeParse(outcome.operation).success).toBe(true);
      return outcome.operation;
    };
    expect(nudged(3)).toMatchObject({ donor: null, pull: { knots: [[103, 100, 3, 0]], reachPx: 20 } });
    expect(nudged(40).pull!.reachPx).toBeGreaterThan(100);
    // Farther than can be moved it goes as far as it can.
    const [[, , far]] = nudged(700).pull!.knots as [[number, number, number, number]];
    expect(far > 100 && far < 250).toBe(true);
  });

  it.each([
    ['straighten', { kind: 'straighten', from: [10, 10], to: [90, 10], reachPx: 20 }],
    ['match', { kind: 'match', donor: 2, shape: { kind: 'stroke', points: [[10, 10], [90, 10]], ...brush } }], // prettier-ignore
    ['even', { kind: 'even', donor: 2, polygon: [[10, 10], [90, 10], [90, 90]] }], // prettier-ignore
  ] as const)('%s is worked out by the server', (id, order) => {
    const tool = toolOf(id);
    const more = id === 'even' ? [at(90, 10), at(90, 90)] : [at(90, 10)];
    const [draft] = tool.extend(tool.begin(at(10, 10), { donor: 2, brush, picture }), more);
    expect(tool.finish(draft)).toEqual({ kind: 'order', order });
    expect(handOrderSchema.safeParse(order).success).toBe(true);
  });

  it('an outline is what was drawn around; a touch outlines nothing', () => {
    const tool = toolOf('outline');
    const begun = tool.begin(at(10, 10), { donor: null, brush, picture });
    expect(tool.finish(begun)).toBeNull();
    const [draft] = tool.extend(begun, [at(11, 10), at(40, 10), at(40, 40), at(10, 40)]);
    expect(tool.finish(draft)).toEqual({ kind: 'mark', polygon: [[10, 10], [40, 10], [40, 40], [10, 40]] }); // prettier-ignore
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

it('a mask is hatched where it is, longer where it is full, and stays with the picture when that is moved', () => {
  const operation = strokeOf(1, [[200, 150]], 120);
  const strokes = (originX: number): number[][] => {
    const drawn: number[][] = [];
    let from = [0, 0];
    const context = {
      beginPath: () => undefined,
      setLineDash: () => undefined,
      stroke: () => undefined,
      moveTo: (x: number, y: number) => (from = [x, y]),
      lineTo: (x: number, y: number) => drawn.push([...from, x, y]),
    } as unknown as CanvasRenderingContext2D;
    drawMask(context, { originX, originY: 0, zoom: 2, width: 800, height: 600 }, operation, '#fff');
    return drawn;
  };
  const drawn = strokes(0);
  const off = ([ax, ay, bx, by]: number[]): number => Math.hypot((ax! + bx!) / 4 - 200, (ay! + by!) / 4 - 150);
  const length = ([ax, ay, bx, by]: number[]): number => Math.hypot(bx! - ax!, by! - ay!);
  expect([drawn.length > 300, drawn.every((s) => off(s) <= 61)]).toEqual([true, true]);
  const [inner, outer] = [drawn.filter((s) => off(s) < 20), drawn.filter((s) => off(s) > 50)];
  expect(Math.min(...inner.map(length))).toBeGreaterThan(2 * Math.min(...outer.map(length)));
  const moved = strokes(10);
  expect(moved.length).toBe(drawn.length);
  moved.forEach((s, k) => expect(s[0]! + 20).toBeCloseTo(drawn[k]![0]!, 3));
});
