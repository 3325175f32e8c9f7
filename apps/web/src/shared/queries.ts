// Server data in the query cache.
import { useQuery } from '@tanstack/react-query';
import { api } from './api';

export const KEYS = {
  jobs: ['jobs'] as const,
  cards: ['cards'] as const,
  card: (id: string) => ['card', id] as const,
  job: (id: string) => ['job', id] as const,
  jobPlan: (id: string) => ['job', id, 'plan'] as const,
  merge: (id: string) => ['merge', id] as const,
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
