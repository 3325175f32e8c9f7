// What the frames show under the pointer, asked once the pointer rests.
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api } from '../../../shared/api';
import { useBench } from '../store';

const REST_MS = 110;
const GRID_PX = 16;
export const PATCH_PX = 72;

export interface Place {
  readonly x: number;
  readonly y: number;
}

/** The place the trace strip is about: under the resting pointer, on a 16 px grid. */
export function useRestingPlace(): Place | null {
  const pointer = useBench((s) => s.pointer);
  const [place, setPlace] = useState<Place | null>(null);
  useEffect(() => {
    if (!pointer) return;
    const timer = window.setTimeout(() => {
      setPlace({ x: Math.round(pointer.x / GRID_PX) * GRID_PX, y: Math.round(pointer.y / GRID_PX) * GRID_PX });
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
