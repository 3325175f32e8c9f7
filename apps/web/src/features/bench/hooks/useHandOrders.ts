// What is drawn or brought by hand is worked out by the server before it is done: a mask that fits, a tone that is evened, a line pulled
// straight, a mask from a file.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { HandOrder } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { keepOperations, KEYS, knownRevision } from '../../../shared/queries';

/** A mask for a frame. */
export interface MaskOrder {
  readonly kind: 'mask';
  readonly donor: number;
  readonly file: File;
}

/** The mask of an operation, to be laid to the edges of what it paints in. */
export interface SnapOrder {
  readonly kind: 'snap';
  readonly operationId: string;
  readonly reachPx: number;
}

type Order = HandOrder | MaskOrder | SnapOrder;

export interface HandOrders {
  give(order: Order): void;
  /** Whether something is being worked out. */
  readonly isWorking: boolean;
}

/** @param complain is told why nothing was done */
export function useHandOrders(mergeId: string, complain: (words: string) => void): HandOrders {
  const client = useQueryClient();
  const { mutate, isPending } = useMutation({
    mutationFn: (order: Order) => {
      const since = knownRevision(client, KEYS.operations(mergeId));
      if (order.kind === 'mask') return api.takeMask(mergeId, since, order.donor, order.file);
      if (order.kind === 'snap') return api.snapMask(mergeId, since, order.operationId, order.reachPx);
      return api.byHand(mergeId, since, order);
    },
    onSuccess: (changes) => keepOperations(client, mergeId, changes),
    onError: (error) => complain(wordsOf(error)),
  });
  return { give: mutate, isWorking: isPending };
}
