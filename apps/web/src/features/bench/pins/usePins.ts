// The pins of a merge: asked for, added and removed.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { NewPin, Pin } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { KEYS } from '../../../shared/queries';
import { useBench } from '../store';

const NO_PINS: readonly Pin[] = [];

export function usePins(mergeId: string): readonly Pin[] {
  return useQuery({ queryKey: KEYS.pins(mergeId), queryFn: () => api.pins(mergeId) }).data ?? NO_PINS;
}

export interface PinWork {
  measure(pin: NewPin): void;
  remove(pin: Pin): void;
}

/** @param complain is told why something could not be measured */
export function usePinWork(mergeId: string, complain: (words: string) => void): PinWork {
  const client = useQueryClient();
  const keep = (change: (pins: readonly Pin[]) => readonly Pin[]): void =>
    void client.setQueryData<readonly Pin[]>(KEYS.pins(mergeId), (pins = NO_PINS) => change(pins));
  const { mutate: measure } = useMutation({
    mutationFn: (pin: NewPin) => api.addPin(mergeId, pin),
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
