// Edits of a sorting by hand: files move, sets split and join, and no file is ever lost or doubled.
import fc from 'fast-check';
import type { CardSet, CardSorting } from '@blendrak/contract';
import { joinToPrevious, moveFile, newSetOf, reverseSet, splitSet, toggleLeftOut, type Place } from './editSorting';

const set = (id: string, files: string[], over: Partial<CardSet> = {}): CardSet => ({
  id,
  kind: 'focus-stack',
  files,
  labels: {},
  leftOut: [],
  why: '',
  confidence: 1,
  nested: [],
  checks: [],
  overlaps: [0.5],
  jobId: null,
  ...over,
});
const start: CardSorting = {
  sets: [set('a', ['1', '2', '3']), set('b', ['4', '5'])],
  separators: ['6'],
  unassigned: ['7'],
};
const filesOf = (s: CardSorting): string[] => [...s.sets.flatMap((x) => x.files), ...s.separators, ...s.unassigned];

it('moves a file before another, to an end, out of all sets', () => {
  expect(moveFile(start, '5', { set: 'a' }, '2').sets.map((s) => s.files)).toEqual([['1', '5', '2', '3'], ['4']]);
  expect(moveFile(start, '1', { set: 'b' }).sets[1]!.files).toEqual(['4', '5', '1']);
  expect(moveFile(start, '2', 'separators').separators).toEqual(['6', '2']);
  expect(moveFile(start, '3', { set: 'a' }, '1').sets[0]!.files).toEqual(['3', '1', '2']);
});

it('splits before a frame, joins again, turns round', () => {
  const split = splitSet(start, 'a', '2', 'c');
  expect(split.sets.map((s) => [s.id, s.files.join('')])).toEqual([
    ['a', '1'],
    ['c', '23'],
    ['b', '45'],
  ]);
  expect(joinToPrevious(split, 'c').sets[0]!.files).toEqual(['1', '2', '3']);
  expect(splitSet(start, 'a', '1', 'c').sets).toHaveLength(2);
  // What neighbours share is not known of other neighbours.
  expect(reverseSet(start, 'a').sets[0]!).toMatchObject({ files: ['3', '2', '1'], overlaps: [] });
});

it('leaves a frame out and takes it in again; a change makes the old job stale', () => {
  const withJob = { ...start, sets: [set('a', ['1', '2'], { jobId: 'j' }), start.sets[1]!] };
  const out = toggleLeftOut(withJob, 'a', '2');
  expect(out.sets[0]).toMatchObject({ leftOut: ['2'], jobId: null });
  expect(toggleLeftOut(out, 'a', '2').sets[0]!.leftOut).toEqual([]);
});

it('an empty set goes; a lone file becomes a set', () => {
  const emptied = moveFile(moveFile(start, '4', 'unassigned'), '5', 'unassigned');
  expect(emptied.sets.map((s) => s.id)).toEqual(['a']);
  expect(newSetOf(start, '7', 'n').sets.at(-1)).toMatchObject({ id: 'n', files: ['7'] });
});

it('a nested set whose inner set changes comes apart without losing a file', () => {
  const nested: CardSorting = {
    sets: [
      set('i', ['1', '2'], { kind: 'bracket' }),
      set('k', ['3', '4'], { kind: 'bracket' }),
      set('o', ['1', '2', '3', '4'], { kind: 'panorama', nested: ['i', 'k'] }),
    ],
    separators: [],
    unassigned: [],
  };
  const next = moveFile(nested, '2', 'unassigned');
  expect(new Set(filesOf(next))).toEqual(new Set(['1', '2', '3', '4']));
});

it('any run of edits keeps each file in exactly one place', () => {
  const place = fc.constantFrom<Place>({ set: 'a' }, { set: 'b' }, 'separators', 'unassigned');
  const file = fc.constantFrom('1', '2', '3', '4', '5', '6', '7');
  const step = fc.oneof(
    fc.tuple(file, place, fc.option(file)).map(
      ([f, p, b]) =>
        (s: CardSorting) =>
          moveFile(s, f, p, b),
    ),
    file.map((f) => (s: CardSorting) => splitSet(s, 'a', f, `n${f}`)),
    fc.constantFrom('a', 'b', 'n2', 'n3').map((id) => (s: CardSorting) => joinToPrevious(s, id)),
    file.map((f) => (s: CardSorting) => newSetOf(s, f, `m${f}`)),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      // A place that is gone takes nothing: the edit is not offered then.
      const end = steps.reduce((s, edit) => (filesOf(edit(s)).length === 7 ? edit(s) : s), start);
      expect(filesOf(end).sort()).toEqual(['1', '2', '3', '4', '5', '6', '7']);
    }),
    { numRuns: 300 },
  );
});
