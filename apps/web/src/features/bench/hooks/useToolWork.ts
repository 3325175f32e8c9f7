// What is in hand at work: whoever points, mouse, pen, finger or the keyboard's cross, begins, extends and finishes a draft here.
import { useEffect, useMemo, useRef } from 'react';
import type { OperationChange } from '@blendrak/contract';
import { placeOperation } from '@blendrak/core/repair';
import type { Preview } from '../../../viewer/preview/openPreview';
import { lookOf } from '../looks';
import { useBench } from '../store';
import { toolOf, type Hand, type PenSample, type StrokeDraft } from '../tools';

export interface ToolWork {
  /** Whether something is in hand that can work. */
  isReady(): boolean;
  isBusy(): boolean;
  begin(at: PenSample): void;
  extend(samples: readonly PenSample[]): void;
  finish(): void;
  /** What was begun is given up: nothing of it is kept, and nothing of it stays on the screen. */
  giveUp(): void;
}

function handNow(): Hand {
  const { donor, brush } = useBench.getState();
  return { donor, brush };
}

/** The tool in hand, if it can work with what else is. */
export function readyTool() {
  const { tool } = useBench.getState();
  const found = tool === null ? null : toolOf(tool);
  return found?.isReady(handNow()) ? found : null;
}

export function useToolWork(preview: Preview | null, ask: (change: OperationChange) => string): ToolWork {
  const draft = useRef<{ readonly tool: NonNullable<ReturnType<typeof readyTool>>; state: StrokeDraft } | null>(null);
  const latest = useRef({ preview, ask });
  useEffect(() => {
    latest.current = { preview, ask };
  }, [ask, preview]);
  const tool = useBench((s) => s.tool);
  const donor = useBench((s) => s.donor);
  // The pixels that it will paint with are fetched as soon as it is in hand.
  useEffect(() => {
    const ready = readyTool();
    if (ready) preview?.prepare(ready.donorOf(handNow()));
  }, [donor, preview, tool]);
  return useMemo(
    (): ToolWork => ({
      isReady: () => readyTool() !== null,
      isBusy: () => draft.current !== null,
      begin(at) {
        const ready = readyTool();
        if (!ready) return;
        const { look, set } = useBench.getState();
        // Work goes on where it can be seen.
        const panes = lookOf(look.id).panes({ frames: [] }, look.frame);
        if (!panes.at(-1)!.layers.some((layer) => layer.of === 'repaired')) set({ look: { ...look, id: 'repaired' } });
        const state = ready.begin(at, handNow());
        draft.current = { tool: ready, state };
        const { donor: from, piece } = ready.shown(state);
        latest.current.preview?.draw(from, piece);
      },
      extend(samples) {
        const now = draft.current;
        if (!now) return;
        const [state, grown] = now.tool.extend(now.state, samples);
        now.state = state;
        if (grown) latest.current.preview?.draw(grown.donor, grown.piece);
      },
      finish() {
        const now = draft.current;
        if (!now) return;
        draft.current = null;
        const operation = now.tool.finish(now.state);
        const id = latest.current.ask({ kind: 'add', operation });
        latest.current.preview?.commit(placeOperation({ ...operation, id }));
      },
      giveUp() {
        if (!draft.current) return;
        draft.current = null;
        latest.current.preview?.giveUp();
      },
    }),
    [],
  );
}
