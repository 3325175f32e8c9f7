// What stands in the rows of the Sort screen.
import type { CardSorting } from '@blendrak/contract';
import type { Place } from './editSorting';

/** Rows of the screen: sets that are not inside another, then separators, then the rest. */
export interface SortRow {
  readonly key: string;
  readonly place: Place;
  readonly files: readonly string[];
}

export function rowsOf(sorting: CardSorting): SortRow[] {
  const inner = new Set(sorting.sets.flatMap((s) => s.nested));
  return [
    ...sorting.sets.filter((s) => !inner.has(s.id)).map((s) => ({ key: s.id, place: { set: s.id }, files: s.files })),
    { key: 'separators', place: 'separators' as const, files: sorting.separators },
    { key: 'unassigned', place: 'unassigned' as const, files: sorting.unassigned },
  ];
}
