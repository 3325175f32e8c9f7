// Other merges of the set made to be painted with: asked for, watched, cancelled.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useState } from 'react';
import { isOpenWork, type SourceMethod, type Work } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { KEYS, useJob, type BenchMerge } from '../../../shared/queries';

export interface MoreSources {
  /** Being made; null while none is. */
  readonly work: Work | null;
  make(method: SourceMethod): void;
  cancel(): void;
}

export function useMoreSources({ id: mergeId, jobId }: BenchMerge): MoreSources {
  const client = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const complain = useCallback((words: string) => enqueueSnackbar(words, { variant: 'error' }), [enqueueSnackbar]);
  const works = useJob(jobId).data?.work;
  const [asked, setAsked] = useState<string | null>(null);
  const work = works?.find((w) => w.kind === 'source' && isOpenWork(w)) ?? null;
  const ended = works?.find((w) => w.id === asked && !isOpenWork(w));
  useEffect(() => {
    if (!ended) return;
    setAsked(null);
    if (ended.status === 'failed') complain(ended.error ?? 'It could not be merged.');
  }, [complain, ended]);
  const { mutate: make } = useMutation({
    mutationFn: (method: SourceMethod) => api.makeSource(mergeId, { method }),
    onSuccess: ({ id }) => {
      setAsked(id);
      void client.invalidateQueries({ queryKey: KEYS.job(jobId) });
    },
    onError: (error) => complain(wordsOf(error)),
  });
  const workId = work?.id;
  const cancel = useCallback((): void => {
    if (workId !== undefined) api.cancelWork(workId).catch((error: unknown) => complain(wordsOf(error)));
  }, [complain, workId]);
  return { work, make, cancel };
}
