// Server data in the query cache.
import { useQuery, type QueryClient } from '@tanstack/react-query';
import type { Finding, FindingChanges, Merge, MergeSource, Operation, OperationChanges } from '@blendrak/contract';
import { api } from './api';
import { withChanges, type VersionedList } from './versioned';

export const KEYS = {
  jobs: ['jobs'] as const,
  kit: ['kit'] as const,
  cards: ['cards'] as const,
  card: (id: string) => ['card', id] as const,
  job: (id: string) => ['job', id] as const,
  jobPlan: (id: string) => ['job', id, 'plan'] as const,
  merge: (id: string) => ['merge', id] as const,
  findings: (mergeId: string) => ['findings', mergeId] as const,
  operations: (mergeId: string) => ['operations', mergeId] as const,
  sources: (mergeId: string) => ['sources', mergeId] as const,
  proposals: (mergeId: string) => ['proposals', mergeId] as const,
  finish: (mergeId: string) => ['finish', mergeId] as const,
  pins: (mergeId: string) => ['pins', mergeId] as const,
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

/** A merge with its findings and operations, as the bench has it. */
export interface BenchMerge extends Merge {
  readonly findings: readonly Finding[];
  /** In the order in which they act. */
  readonly operations: readonly Operation[];
  /** Other merges of the set, which are painted with by the numbers after those of the frames. */
  readonly sources: readonly MergeSource[];
}

/** Operations as of a revision, with how many changes this person can take back and make again. */
export interface OperationList extends VersionedList<Operation> {
  readonly undoable: number;
  readonly redoable: number;
}

/** Other merges of the set that a merge can be painted with. */
export function useSources(mergeId: string | null | undefined) {
  return useQuery({
    queryKey: KEYS.sources(mergeId ?? ''),
    queryFn: () => api.sources(mergeId!),
    enabled: Boolean(mergeId),
  });
}

/** Asks for all findings once, then only for what changed since. */
export function useFindings(mergeId: string | null | undefined) {
  return useQuery({
    queryKey: KEYS.findings(mergeId ?? ''),
    queryFn: async ({ client }) => {
      const key = KEYS.findings(mergeId!);
      const changes = await api.findings(mergeId!, knownRevision(client, key));
      // Other answers may have come meanwhile: the newest list is what these changes are added to.
      return withChanges(client.getQueryData<VersionedList<Finding>>(key), changes);
    },
    enabled: Boolean(mergeId),
  });
}

/** Takes over what an answer says of findings. */
export function keepFindings(client: QueryClient, mergeId: string, changes: FindingChanges): void {
  client.setQueryData<VersionedList<Finding>>(KEYS.findings(mergeId), (list) => withChanges(list, changes));
}

/** Asks for all operations once, then only for what changed since. */
export function useOperations(mergeId: string | null | undefined) {
  return useQuery({
    queryKey: KEYS.operations(mergeId ?? ''),
    queryFn: async ({ client }) => {
      const key = KEYS.operations(mergeId!);
      const changes = await api.operations(mergeId!, knownRevision(client, key));
      return withOperations(client.getQueryData<OperationList>(key), changes);
    },
    enabled: Boolean(mergeId),
  });
}

/** Takes over what an answer says of operations. */
export function keepOperations(client: QueryClient, mergeId: string, changes: OperationChanges): void {
  client.setQueryData<OperationList>(KEYS.operations(mergeId), (list) => withOperations(list, changes));
}

function withOperations(list: OperationList | undefined, changes: OperationChanges): OperationList {
  const { revision, items } = withChanges(list, changes, (a, b) => a.order - b.order);
  const counts = list && changes.revision < list.revision ? list : changes;
  // The list itself is kept while nothing of it changes: what hangs on it is not worked out again.
  if (list && items === list.items && counts.undoable === list.undoable && counts.redoable === list.redoable)
    return list;
  return { revision, items, undoable: counts.undoable, redoable: counts.redoable };
}

/** Revision of a versioned list that this page knows; −1 for none. */
export function knownRevision(client: QueryClient, key: readonly string[]): number {
  return client.getQueryData<{ readonly revision: number }>(key)?.revision ?? -1;
}
