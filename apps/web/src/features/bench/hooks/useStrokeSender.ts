// Sends strokes to the server in order and keeps those it has not acknowledged, also over a reload or a restart.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, ServerProblem } from '../../../shared/api';
import { keepStrokes, knownRevision } from '../../../shared/queries';
import { useBench } from '../store';

const RETRY_MS = 1500;

/** How saving stands. */
export type Saving = { readonly state: 'saved' } | { readonly state: 'saving' | 'retrying'; readonly count: number };

export function useStrokeSender(mergeId: string, onRefused: (words: string) => void): Saving {
  const client = useQueryClient();
  const pending = useBench((s) => s.pending).filter((p) => p.mergeId === mergeId);
  const acknowledge = useBench((s) => s.acknowledge);
  const busy = useRef(false);
  const [failing, setFailing] = useState(false);
  const [attempt, setAttempt] = useState(0);
  const next = pending[0];
  useEffect(() => {
    if (!next || busy.current) return;
    busy.current = true;
    const again = (): void => {
      busy.current = false;
      setAttempt((a) => a + 1);
    };
    api
      .addStroke(mergeId, knownRevision(client, mergeId), next.id, next.stroke)
      .then((changes) => {
        keepStrokes(client, mergeId, changes);
        setFailing(false);
        acknowledge(next.id);
        again();
      })
      .catch((error: unknown) => {
        if (error instanceof ServerProblem && error.status >= 400 && error.status < 500) {
          // The server will never take it: say why and let it go.
          onRefused(error.message);
          acknowledge(next.id);
          again();
          return;
        }
        setFailing(true);
        setTimeout(again, RETRY_MS);
      });
  }, [acknowledge, attempt, client, mergeId, next, onRefused]);
  if (pending.length === 0) return { state: 'saved' };
  return { state: failing ? 'retrying' : 'saving', count: pending.length };
}
