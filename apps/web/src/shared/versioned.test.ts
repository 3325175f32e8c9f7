// Lists that a page keeps: changes are added once, in order, whatever order the answers come in.
import fc from 'fast-check';
import { withChanges, type VersionedList } from './versioned';

interface Item {
  readonly id: string;
  readonly order: number;
}
const item = (id: string, order: number): Item => ({ id, order });
const ids = (list: VersionedList<Item>): string[] => list.items.map((i) => i.id);
const byOrder = (a: Item, b: Item): number => a.order - b.order;

const start = withChanges(undefined, { revision: 2, changed: [item('a', 1), item('b', 2)] });

it('new ones stand last, changed ones stay in their place', () => {
  const next = withChanges(start, { revision: 4, changed: [item('a', 9), item('c', 3)] });
  expect(ids(next)).toEqual(['a', 'b', 'c']);
  expect(next.items[0]!.order).toBe(9);
});

it('a list with an order keeps it', () => {
  expect(ids(withChanges(start, { revision: 4, changed: [item('a', 9), item('c', 0)] }, byOrder))).toEqual([
    'c',
    'b',
    'a',
  ]);
});

it('what is gone goes', () => {
  expect(ids(withChanges(start, { revision: 5, changed: [item('c', 3)], gone: ['a', 'never there'] }))).toEqual([
    'b',
    'c',
  ]);
});

it('an answer that is older than the list changes nothing, and keeps the list itself', () => {
  expect(withChanges(start, { revision: 2, changed: [item('x', 1)], gone: ['a'] })).toBe(start);
  expect(withChanges(start, { revision: 1, changed: [], gone: ['b'] })).toBe(start);
});

it('answers from one revision on, heard late, twice and in any order, end where the last one ends', () => {
  /** What a server with these orders at these revisions would say since a revision. */
  const history = [item('a', 1), item('b', 2), item('c', 3), item('a', 4), item('d', 5), item('b', 6)];
  const answer = (upTo: number) => ({
    revision: upTo,
    changed: [...new Map(history.slice(0, upTo).map((i) => [i.id, i])).values()],
  });
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 12 }), (heard) => {
      const list = [...heard, 6].reduce<VersionedList<Item> | undefined>(
        (known, upTo) => withChanges(known, answer(upTo), byOrder),
        undefined,
      );
      expect(list!.items.map((i) => [i.id, i.order])).toEqual([
        ['c', 3],
        ['a', 4],
        ['d', 5],
        ['b', 6],
      ]);
    }),
    { seed: 3 },
  );
});
