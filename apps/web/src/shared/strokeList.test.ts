// The list of strokes that a page keeps: changes are added once, in order, whatever order the answers come in.
import type { SavedStroke } from '@blendrak/contract';
import { withChanges } from './queries';

const stroke = (id: string, undone = false): SavedStroke => ({
  id,
  undone,
  frame: 0,
  points: [[1, 1]],
  sizePx: 10,
  hardness: 1,
  strength: 1,
});
const ids = (list: { strokes: readonly SavedStroke[] }): string[] =>
  list.strokes.map((s) => s.id + (s.undone ? '-' : ''));

const start = withChanges(undefined, { revision: 2, changed: [stroke('a'), stroke('b')], gone: [] });

it('new strokes stand last, changed ones stay in their place', () => {
  const next = withChanges(start, { revision: 4, changed: [stroke('a', true), stroke('c')], gone: [] });
  expect(ids(next)).toEqual(['a-', 'b', 'c']);
});

it('a stroke that came back under another id is there once', () => {
  expect(ids(withChanges(start, { revision: 5, changed: [stroke('a2')], gone: ['a'] }))).toEqual(['b', 'a2']);
});

it('an answer that is older than the list changes nothing, and keeps the list itself', () => {
  expect(withChanges(start, { revision: 2, changed: [stroke('x')], gone: ['a'] })).toBe(start);
});
