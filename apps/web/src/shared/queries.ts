// Server data in the query cache.
import { useQuery, type QueryClient } from '@tanstack/react-query';
import type { Merge, SavedStroke, StrokeChanges } from '@blendrak/contract';
import { api } from './api';

export const KEYS = {
  jobs: ['jobs'] as const,
  cards: ['cards'] as const,
  card: (id: string) => ['card', id] as const,
  job: (id: string) => ['job', id] as const,
  jobPlan: (id: string) => ['job', id, 'plan'] as const,
  merge: (id: string) => ['merge', id] as const,
  strokes: (mergeId: string) => ['strokes', mergeId] as const,
};

export function useJobs() {
  return useQuery({ queryKey: KEYS.jobs, queryFn: api.jobs });
}

export function useJob(id: string | undefined) {
  return useQuery({ queryKey: KEYS.job(id ?? ''), queryFn: () => api.job(id!), enabled: id !== undefined });
}

export function useMerge(id: string | null | undefined) {
  return useQuery({ queryKey: KEYS.merge(id ?? ''), queryFn: () => api.merge(id!), enabled: Boolean(id) });
}

/** A merge with its strokes, as the bench has it. */
export type PaintedMerge = Merge & { readonly strokes: readonly SavedStroke[] };

/** Strokes of a merge as of a revision. */
export interface StrokeList {
  readonly revision: number;
  readonly strokes: readonly SavedStroke[];
}

/** Asks for all strokes once, then only for what changed since. */
export function useStrokes(mergeId: string | null | undefined) {
  return useQuery({
    queryKey: KEYS.strokes(mergeId ?? ''),
    queryFn: async ({ client }) => {
      const since = client.getQueryData<StrokeList>(KEYS.strokes(mergeId!))?.revision ?? -1;
      const changes = await api.strokes(mergeId!, since);
      // Other answers may have come meanwhile: the newest list is what these changes are added to.
      return withChanges(client.getQueryData<StrokeList>(KEYS.strokes(mergeId!)), changes);
    },
    enabled: Boolean(mergeId),
  });
}

/** Takes over what an answer says of strokes. */
export function keepStrokes(client: QueryClient, mergeId: string, changes: StrokeChanges): void {
  client.setQueryData<StrokeList>(KEYS.strokes(mergeId), (list) => withChanges(list, changes));
}

/** Revision of the strokes that this page knows; −1 for none. */
export function knownRevision(client: QueryClient, mergeId: string): number {
  return client.getQueryData<StrokeList>(KEYS.strokes(mergeId))?.revision ?? -1;
}

/** A list with changes in it; an answer that is older than the list changes nothing. */
export function withChanges(list: StrokeList | undefined, { revision, changed, gone }: StrokeChanges): StrokeList {
  const known = list?.strokes ?? [];
  if (list && revision <= list.revision) return list;
  const news = new Map(changed.map((s) => [s.id, s]));
  const kept = known.filter((s) => !gone.includes(s.id)).map((s) => news.get(s.id) ?? s);
  const ids = new Set(kept.map((s) => s.id));
  return { revision, strokes: [...kept, ...changed.filter((s) => !ids.has(s.id))] };
}
