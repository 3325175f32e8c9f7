// What the frames show under the pointer, asked once the pointer rests.
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { api } from '../../../shared/api';
import { useBench, type Place } from '../store';

const REST_MS = 110;
const GRID_PX = 16;
export const PATCH_PX = 72;

/** The place the trace strip is about: under the resting pointer, on a 16 px grid. */
export function useRestingPlace(): Place | null {
  const pointer = useBench((s) => s.pointer);
  const place = useBench((s) => s.place);
  useEffect(() => {
    if (!pointer) return;
    const timer = window.setTimeout(() => {
      const grid = (v: number): number => Math.round(v / GRID_PX) * GRID_PX;
      useBench.getState().set({ place: { x: grid(pointer.x), y: grid(pointer.y) } });
    }, REST_MS);
    return () => window.clearTimeout(timer);
  }, [pointer]);
  return place;
}

export function useProbe(mergeId: string, place: Place | null, revision: number) {
  return useQuery({
    queryKey: ['probe', mergeId, place?.x, place?.y, revision],
    queryFn: () => api.probe(mergeId, place!.x, place!.y, PATCH_PX),
    enabled: place !== null,
    placeholderData: (before) => before,
  });
}
