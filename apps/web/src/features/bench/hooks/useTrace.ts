// What the frames show at the place the trace strip is about: one request for each rest of the pointer.
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Probe } from '@blendrak/contract';
import { tileState } from '@blendrak/core/repair';
import { api } from '../../../shared/api';
import type { BenchMerge } from '../../../shared/queries';
import type { PictureRegion } from '../../../viewer/camera';
import { useBench, type Place } from '../store';
import { useInForce } from './useLayers';

const PATCH_PX = 72;

export interface Trace {
  readonly place: Place | null;
  /** What was measured there; of the place before while the answer is on its way; null while there is none at all. */
  readonly probe: Probe | null;
}

function patchAround({ x, y }: Place): PictureRegion {
  return { x: x - PATCH_PX / 2, y: y - PATCH_PX / 2, width: PATCH_PX, height: PATCH_PX };
}

/** @param fallback the place while the pointer has rested nowhere: the open finding's own */
export function useTrace(merge: BenchMerge, fallback: Place | null): Trace {
  const { id, sources } = merge;
  const inForce = useInForce(merge);
  const place = useBench((s) => s.place) ?? fallback;
  // What is shown there changes with the operations that reach it, and with no other.
  const state = useMemo(() => (place ? tileState(inForce, patchAround(place), PATCH_PX) : ''), [inForce, place]);
  const { data } = useQuery({
    queryKey: ['probe', id, place?.x, place?.y, state, sources.length],
    queryFn: ({ signal }) => api.probe(id, place!.x, place!.y, PATCH_PX, signal),
    enabled: place !== null,
    placeholderData: (before) => before,
  });
  return { place, probe: data ?? null };
}
