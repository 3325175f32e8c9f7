// Edits of a sorting: each takes one and gives the next; every file stays in one place.
import type { CardSet, CardSorting } from '@blendrak/contract';

/** Where a file can lie: in a set, among the separators, or unassigned. */
export type Place = { readonly set: string } | 'separators' | 'unassigned';

const isSet = (place: Place): place is { readonly set: string } => typeof place === 'object';

/** Puts a file before another of a place, or at its end. */
export function moveFile(sorting: CardSorting, file: string, to: Place, before: string | null = null): CardSorting {
  if (file === before) return sorting;
  const without = (list: readonly string[]): string[] => list.filter((f) => f !== file);
  const placed = (list: readonly string[]): string[] => {
    const rest = without(list);
    const at = before === null ? rest.length : rest.indexOf(before);
    rest.splice(at < 0 ? rest.length : at, 0, file);
    return rest;
  };
  const target = isSet(to) ? to.set : null;
  const sets = sorting.sets.map((set): CardSet => {
    const files = set.id === target ? placed(set.files) : without(set.files);
    if (files.join() === set.files.join()) return set;
    // What was said of the frames as they were does not hold for others.
    return {
      ...set,
      files,
      leftOut: set.leftOut.filter((f) => files.includes(f)),
      checks: set.checks.filter((c) => files.includes(c.file)),
      overlaps: [],
      jobId: null,
    };
  });
  return tidy({
    sets,
    separators: to === 'separators' ? placed(sorting.separators) : without(sorting.separators),
    unassigned: to === 'unassigned' ? placed(sorting.unassigned) : without(sorting.unassigned),
  });
}

/** Splits a set before a file; the later part becomes a set of its own. */
export function splitSet(sorting: CardSorting, setId: string, before: string, newId: string): CardSorting {
  return edit(sorting, setId, (set) => {
    const at = set.files.indexOf(before);
    if (at <= 0) return [set];
    return [part(set, set.files.slice(0, at), set.id), part(set, set.files.slice(at), newId)];
  });
}

/** Joins a set to the one above it. */
export function joinToPrevious(sorting: CardSorting, setId: string): CardSorting {
  const at = sorting.sets.findIndex((s) => s.id === setId);
  if (at <= 0) return sorting;
  const [above, below] = [sorting.sets[at - 1]!, sorting.sets[at]!];
  const joined: CardSet = {
    ...above,
    files: [...above.files, ...below.files],
    leftOut: [...above.leftOut, ...below.leftOut],
    checks: [...above.checks, ...below.checks],
    nested: [],
    overlaps: [],
    jobId: null,
  };
  return { ...sorting, sets: [...sorting.sets.slice(0, at - 1), joined, ...sorting.sets.slice(at + 1)] };
}

/** Leaves a frame out of its set, or takes it in again. */
export function toggleLeftOut(sorting: CardSorting, setId: string, file: string): CardSorting {
  return edit(sorting, setId, (set) => [
    {
      ...set,
      leftOut: set.leftOut.includes(file) ? set.leftOut.filter((f) => f !== file) : [...set.leftOut, file],
      jobId: null,
    },
  ]);
}

export function setKind(sorting: CardSorting, setId: string, kind: CardSet['kind']): CardSorting {
  return edit(sorting, setId, (set) => [{ ...set, kind, overlaps: [], jobId: null }]);
}

/** Turns the order of a set round: far to near becomes near to far. */
export function reverseSet(sorting: CardSorting, setId: string): CardSorting {
  return edit(sorting, setId, (set) => [{ ...set, files: [...set.files].reverse(), overlaps: [], jobId: null }]);
}

/** Makes a set of an unassigned file or separator. */
export function newSetOf(sorting: CardSorting, file: string, newId: string): CardSorting {
  const set: CardSet = {
    id: newId,
    kind: 'focus-stack',
    files: [],
    labels: {},
    leftOut: [],
    why: 'put together by hand',
    confidence: 1,
    nested: [],
    checks: [],
    overlaps: [],
    jobId: null,
  };
  return moveFile({ ...sorting, sets: [...sorting.sets, set] }, file, { set: newId });
}

function edit(sorting: CardSorting, setId: string, change: (set: CardSet) => readonly CardSet[]): CardSorting {
  return tidy({ ...sorting, sets: sorting.sets.flatMap((set) => (set.id === setId ? change(set) : [set])) });
}

function part(set: CardSet, files: readonly string[], id: string): CardSet {
  const has = (file: string): boolean => files.includes(file);
  return {
    ...set,
    id,
    files: [...files],
    leftOut: set.leftOut.filter(has),
    checks: set.checks.filter((c) => has(c.file)),
    nested: [],
    overlaps: [],
    jobId: null,
  };
}

/** Empty sets go; an outer set whose inner sets no longer hold its frames stands by itself. */
function tidy(sorting: CardSorting): CardSorting {
  const sets = sorting.sets.filter((s) => s.files.length > 0);
  const byId = new Map(sets.map((s) => [s.id, s]));
  const whole = (set: CardSet): boolean =>
    set.nested.every((id) => byId.get(id)?.files.every((f) => set.files.includes(f)) ?? false);
  const broken = new Set(sets.filter((s) => s.nested.length > 0 && !whole(s)).map((s) => s.id));
  const freed = new Set(sets.filter((s) => broken.has(s.id)).flatMap((s) => s.nested));
  const loose = sets.filter((s) => !broken.has(s.id) || freed.size === 0);
  // An outer set that came apart leaves its inner sets; files that stand in none of them go along unassigned.
  const held = new Set(loose.flatMap((s) => s.files));
  const lost = sets
    .filter((s) => broken.has(s.id))
    .flatMap((s) => s.files)
    .filter((f) => !held.has(f) && !sorting.unassigned.includes(f) && !sorting.separators.includes(f));
  return { ...sorting, sets: loose, unassigned: [...sorting.unassigned, ...new Set(lost)] };
}
