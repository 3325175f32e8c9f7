// What a merge is on its way out: asked for, and changed.
import { useMutation, useQuery, useQueryClient, type UseMutationResult } from '@tanstack/react-query';
import type { Cut, DeliveryOrder, Finish, SignOrder, ViewingSettings, WaiveOrder, Work } from '@blendrak/contract';
import { api } from '../../shared/api';
import { KEYS } from '../../shared/queries';

export function useFinish(mergeId: string | null | undefined) {
  return useQuery({
    queryKey: KEYS.finish(mergeId ?? ''),
    queryFn: () => api.finish(mergeId!),
    enabled: Boolean(mergeId),
  });
}

type Mutation<T> = UseMutationResult<unknown, Error, T>;

export interface FinishWork {
  readonly cut: Mutation<Cut>;
  readonly waive: Mutation<WaiveOrder>;
  readonly sign: Mutation<SignOrder>;
  readonly openAgain: Mutation<void>;
  readonly view: Mutation<ViewingSettings>;
  readonly deliver: UseMutationResult<Work, Error, DeliveryOrder>;
}

export function useFinishWork(mergeId: string, jobId: string): FinishWork {
  const client = useQueryClient();
  const keep = (finish: Finish): void => {
    client.setQueryData(KEYS.finish(mergeId), finish);
    void client.invalidateQueries({ queryKey: KEYS.job(jobId) });
  };
  // Refused because something changed meanwhile: what is shown is looked at anew.
  const again = (): void => void client.invalidateQueries({ queryKey: KEYS.finish(mergeId) });
  const ask = { onSuccess: keep, onError: again };
  return {
    cut: useMutation({ mutationFn: (cut: Cut) => api.setCut(mergeId, cut), ...ask }),
    waive: useMutation({ mutationFn: (order: WaiveOrder) => api.waive(mergeId, order), ...ask }),
    sign: useMutation({ mutationFn: (order: SignOrder) => api.sign(mergeId, order), ...ask }),
    openAgain: useMutation({ mutationFn: () => api.openAgain(mergeId), ...ask }),
    view: useMutation({
      mutationFn: (viewing: ViewingSettings) => api.changeJob(jobId, { viewing }),
      onSuccess: (job) => {
        client.setQueryData(KEYS.job(jobId), job);
        again();
      },
    }),
    deliver: useMutation({
      mutationFn: (order: DeliveryOrder) => api.deliver(mergeId, order),
      onSuccess: () => client.invalidateQueries({ queryKey: KEYS.job(jobId) }),
    }),
  };
}
