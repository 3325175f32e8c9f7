// A thing that was drawn around is painted with a frame: the mask is worked out by the server.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { FitOrder } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { keepOperations, KEYS, knownRevision } from '../../../shared/queries';

/** @param complain is told why nothing was painted */
export function useFit(mergeId: string, complain: (words: string) => void): (order: FitOrder) => void {
  const client = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: (order: FitOrder) => api.fit(mergeId, knownRevision(client, KEYS.operations(mergeId)), order),
    onSuccess: (changes) => keepOperations(client, mergeId, changes),
    onError: (error) => complain(wordsOf(error)),
  });
  return useCallback(({ donor, polygon }: FitOrder) => mutate({ donor, polygon }), [mutate]);
}
