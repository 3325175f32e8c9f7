// What is drawn or brought by hand is worked out by the server before it is done: a mask that fits, a tone that is evened, a line pulled
// straight, a mask from a file.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { HandOrder } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { newId } from '../../../shared/newId';
import { keepOperations, KEYS, knownRevision } from '../../../shared/queries';
import { untilAnswered } from '../../../shared/untilAnswered';
import { useBench } from '../store';

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

/**
 * Orders keep their place behind what was drawn before, and are sent until the server has answered: under one name, so that none is carried out twice.
 * @param complain is told why nothing was done
 */
export function useHandOrders(mergeId: string, complain: (words: string) => void): HandOrders {
  const client = useQueryClient();
  const { mutate, isPending } = useMutation({
    ...untilAnswered(() =>
      complain('The server cannot be reached. What you drew is kept on this page and sent again.'),
    ),
    mutationFn: async ({ id, order }: { readonly id: string; readonly order: Order }) => {
      await sentBefore(mergeId);
      const since = knownRevision(client, KEYS.operations(mergeId));
      if (order.kind === 'mask') return api.takeMask(mergeId, since, id, order.donor, order.file);
      if (order.kind === 'snap') return api.snapMask(mergeId, since, id, order.operationId, order.reachPx);
      return api.byHand(mergeId, since, id, order);
    },
    onSuccess: (changes) => keepOperations(client, mergeId, changes),
    onError: (error) => complain(wordsOf(error)),
  });
  const give = useCallback((order: Order) => mutate({ id: newId(), order }), [mutate]);
  return { give, isWorking: isPending };
}

/** Resolves when nothing that was drawn before is on its way any more: the server works with what is there. */
function sentBefore(mergeId: string): Promise<void> {
  const isSent = ({ unsent }: { readonly unsent: readonly { readonly mergeId: string }[] }): boolean =>
    unsent.every((change) => change.mergeId !== mergeId);
  return new Promise((resolve) => {
    if (isSent(useBench.getState())) return resolve();
    const stop = useBench.subscribe((state) => {
      if (!isSent(state)) return;
      stop();
      resolve();
    });
  });
}
