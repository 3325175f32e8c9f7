// A flat picture is asked for, rendered on the server, and fetched by itself once it is done.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Merge, PictureFormat, Work } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { KEYS, useJob } from '../../../shared/queries';

export interface Export {
  /** Null when nothing is being rendered. */
  readonly work: Work | null;
  /** Why there is no file, in words. */
  readonly refusal: string | null;
  ask(format: PictureFormat): void;
  /** The refusal was read. */
  dismiss(): void;
}

export function useExport({ id, jobId }: Merge): Export {
  const client = useQueryClient();
  const job = useJob(jobId);
  const [asked, setAsked] = useState<Work | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const work = asked && (job.data?.work.find((w) => w.id === asked.id) ?? asked);
  const status = work?.status;
  const workId = work?.id;
  const trouble = work?.error ?? null;
  useEffect(() => {
    if (workId === undefined || status === 'queued' || status === 'running' || status === 'paused') return;
    if (status === 'done') fetchFile(`/api/exports/${workId}`);
    if (status === 'failed') setRefusal(trouble ?? 'It could not be rendered.');
    setAsked(null);
  }, [workId, status, trouble]);
  return {
    work,
    refusal,
    ask(format) {
      setRefusal(null);
      api
        .exportPicture(id, format)
        .then((made) => {
          setAsked(made);
          // It may have ended before this page heard of it.
          void client.invalidateQueries({ queryKey: KEYS.job(jobId) });
        })
        .catch((error: unknown) => setRefusal(wordsOf(error)));
    },
    dismiss: () => setRefusal(null),
  };
}

/** Lets the browser save a file. */
function fetchFile(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
