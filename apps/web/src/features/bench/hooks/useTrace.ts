// What the frames show at the place the trace strip is about: one request for each rest of the pointer.
import { useQuery } from '@tanstack/react-query';
import type { Probe } from '@blendrak/contract';
import { api } from '../../../shared/api';
import type { BenchMerge } from '../../../shared/queries';
import { useBench, type Place } from '../store';

const PATCH_PX = 72;

export interface Trace {
  readonly place: Place | null;
  /** What was measured there; of the place before while the answer is on its way; null while there is none at all. */
  readonly probe: Probe | null;
}

/** @param fallback the place while the pointer has rested nowhere: the open finding's own */
export function useTrace({ id, operations, sources }: BenchMerge, fallback: Place | null): Trace {
  const place = useBench((s) => s.place) ?? fallback;
  // What is shown changes with every operation; where there is none it is known already.
  const state = operations.length === 0 ? '' : `${operations.length} ${operations.at(-1)!.id}`;
  const { data } = useQuery({
    queryKey: ['probe', id, place?.x, place?.y, state, sources.length],
    queryFn: ({ signal }) => api.probe(id, place!.x, place!.y, PATCH_PX, signal),
    enabled: place !== null,
    placeholderData: (before) => before,
  });
  return { place, probe: data ?? null };
}
