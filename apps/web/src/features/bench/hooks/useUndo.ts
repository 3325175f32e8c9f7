// Undo and redo of strokes, sent or not.
import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { api, wordsOf } from '../../../shared/api';
import { keepStrokes, knownRevision } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import { clearPreview } from '../../../viewer/livePreview';
import { undoStep } from '../outbox';
import { useBench } from '../store';

/** @returns takes back the stroke painted last, or brings back the one taken back last */
export function useUndo(
  mergeId: string,
  deep: DeepView | null,
  complain: (words: string) => void,
): (which: 'undo' | 'redo') => void {
  const client = useQueryClient();
  const set = useBench((s) => s.set);
  return useCallback(
    (which: 'undo' | 'redo') => {
      const { pending, takenBack, acknowledge, enqueue } = useBench.getState();
      const unsent = pending.filter((p) => p.mergeId === mergeId);
      const step = undoStep(unsent);
      const again = takenBack.findLast((p) => p.mergeId === mergeId);
      if (which === 'redo' && again) {
        set({ takenBack: takenBack.filter((p) => p !== again) });
        enqueue(again);
      } else if (which === 'undo' && step.kind === 'drop') {
        acknowledge(step.stroke.id);
        set({ takenBack: [...takenBack, step.stroke] });
        if (deep) clearPreview(deep);
      } else {
        // A stroke on its way arrives first: else an older one would be taken back instead.
        void arrived(mergeId)
          .then(() => api[which](mergeId, knownRevision(client, mergeId)))
          .then((changes) => keepStrokes(client, mergeId, changes))
          .catch((error: unknown) => complain(wordsOf(error)));
      }
    },
    [client, complain, deep, mergeId, set],
  );
}

/** Resolves when no stroke of a merge is on its way any more. */
function arrived(mergeId: string): Promise<void> {
  const isEmpty = (): boolean => !useBench.getState().pending.some((p) => p.mergeId === mergeId);
  if (isEmpty()) return Promise.resolve();
  return new Promise((resolve) => {
    const stop = useBench.subscribe(() => {
      if (!isEmpty()) return;
      stop();
      resolve();
    });
  });
}
