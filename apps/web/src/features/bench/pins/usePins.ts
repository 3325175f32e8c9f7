// The pins of a merge: asked for, added and removed.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { NewPin, Pin } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { KEYS } from '../../../shared/queries';
import type { PictureSize } from '../../../viewer/camera';
import { useBench } from '../store';

const NO_PINS: readonly Pin[] = [];

export function usePins(mergeId: string): readonly Pin[] {
  return useQuery({ queryKey: KEYS.pins(mergeId), queryFn: () => api.pins(mergeId) }).data ?? NO_PINS;
}

/** A segment whose ends were drawn beyond the picture ends at its edge. */
export function onPicture({ kind, from, to }: NewPin, { width, height }: PictureSize): NewPin {
  const inside = ([x, y]: NewPin['from']): NewPin['from'] => [
    Math.min(width, Math.max(0, x)),
    Math.min(height, Math.max(0, y)),
  ];
  return { kind, from: inside(from), to: inside(to) };
}

export interface PinWork {
  measure(pin: NewPin): void;
  remove(pin: Pin): void;
}

/** @param complain is told why something could not be measured */
export function usePinWork(merge: PictureSize & { readonly id: string }, complain: (words: string) => void): PinWork {
  const { id: mergeId } = merge;
  const client = useQueryClient();
  const keep = (change: (pins: readonly Pin[]) => readonly Pin[]): void =>
    void client.setQueryData<readonly Pin[]>(KEYS.pins(mergeId), (pins = NO_PINS) => change(pins));
  const { mutate: measure } = useMutation({
    mutationFn: (pin: NewPin) => api.addPin(mergeId, onPicture(pin, merge)),
    onSuccess: (pin) => {
      keep((pins) => [...pins.filter((p) => p.id !== pin.id), pin]);
      useBench.getState().set({ openPin: pin.id, openFinding: null });
    },
    onError: (error) => complain(wordsOf(error)),
  });
  const { mutate: remove } = useMutation({
    mutationFn: (pin: Pin) => api.removePin(pin.id),
    onSuccess: (_answer, pin) => {
      keep((pins) => pins.filter((p) => p.id !== pin.id));
      if (useBench.getState().openPin === pin.id) useBench.getState().set({ openPin: null });
    },
    onError: (error) => complain(wordsOf(error)),
  });
  return { measure, remove };
}
