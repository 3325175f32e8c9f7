// Lists of which the server tells what changed since a revision: answers may come late, twice and in any order.

/** Records of a merge as of a revision. */
export interface VersionedList<T> {
  readonly revision: number;
  readonly items: readonly T[];
}

/** What an answer says of a list. */
export interface ListChanges<T> {
  readonly revision: number;
  readonly changed: readonly T[];
  readonly gone?: readonly string[];
}

/**
 * A list with changes in it; an answer that is older than the list changes nothing.
 * @param compare order of the list
 */
export function withChanges<T extends { readonly id: string }>(
  list: VersionedList<T> | undefined,
  { revision, changed, gone = [] }: ListChanges<T>,
  compare: ((a: T, b: T) => number) | null = null,
): VersionedList<T> {
  if (list && revision <= list.revision) return list;
  const news = new Map(changed.map((item) => [item.id, item]));
  const lost = new Set(gone);
  const kept = (list?.items ?? []).filter((item) => !lost.has(item.id)).map((item) => news.get(item.id) ?? item);
  const ids = new Set(kept.map((item) => item.id));
  const items = [...kept, ...changed.filter((item) => !ids.has(item.id))];
  return { revision, items: compare ? items.sort(compare) : items };
}
