// What is in hand at work: whoever points, mouse, pen, finger or the keyboard's cross, begins, extends and finishes a draft here.
import { useEffect, useMemo, useRef } from 'react';
import type { OperationChange } from '@blendrak/contract';
import { changesInPlace, placeOperation } from '@blendrak/core/repair';
import type { PictureSize } from '../../../viewer/camera';
import type { Preview } from '../../../viewer/preview/openPreview';
import { lookOf, showsRepair } from '../looks';
import { useBench } from '../store';
import { toolOf, type Hand, type Outcome, type PenSample } from '../tools';

export interface ToolWork {
  /** Whether something is in hand that can work. */
  isReady(): boolean;
  /** Whether the pointer is down, or the cross is drawing. */
  isBusy(): boolean;
  begin(at: PenSample): void;
  extend(samples: readonly PenSample[]): void;
  finish(): void;
  /** What was begun is given up: nothing of it is kept, and nothing of it stays on the screen. */
  giveUp(): void;
  /** The draft under way; null while there is none. */
  draft(): unknown;
}

/** What finished drafts are handed to. */
export interface ToolOutlets {
  /** @returns the change's id */
  change(change: OperationChange): string;
  /** For what is no change by itself: it is looked at, or worked out first. */
  look(outcome: Exclude<Outcome, { kind: 'change' | 'goOn' }>): void;
  /** For a draft that asks for nothing; what is to be done with its tool. */
  tooSmall(hint: string): void;
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

interface Underway {
  readonly tool: NonNullable<ReturnType<typeof readyTool>>;
  state: unknown;
  /** Whether it waits for the pointer to come down again. */
  isWaiting: boolean;
}

export function useToolWork(preview: Preview | null, { width, height }: PictureSize, outlets: ToolOutlets): ToolWork {
  const draft = useRef<Underway | null>(null);
  const latest = useRef({ preview, outlets });
  useEffect(() => {
    latest.current = { preview, outlets };
  }, [outlets, preview]);
  const tool = useBench((s) => s.tool);
  const donor = useBench((s) => s.donor);
  // The pixels that it will paint with are fetched as soon as it is in hand.
  useEffect(() => {
    const ready = readyTool();
    if (ready?.group === 'repair') preview?.prepare(ready.donorOf(handNow()));
    // What was begun with another tool, and waits, is given up.
    if (draft.current?.isWaiting) draft.current = null;
  }, [donor, preview, tool]);
  return useMemo(
    (): ToolWork => ({
      isReady: () => readyTool() !== null,
      isBusy: () => draft.current !== null && !draft.current.isWaiting,
      draft: () => draft.current?.state ?? null,
      begin(at) {
        const ready = readyTool();
        if (!ready) return;
        const { look, set } = useBench.getState();
        // Work goes on where it can be seen.
        const sight = { frame: look.frame, isOther: false, partedAt: 0 };
        const { panes, turnsAfterMs } = lookOf(look.id);
        const pane = panes({ frames: [] }, sight).at(-1)!;
        const isSeen = turnsAfterMs === undefined && showsRepair(pane);
        if (ready.group === 'repair' && !isSeen) set({ look: { ...look, id: 'repaired' } });
        const start = { ...handNow(), picture: { width, height } };
        const state = ready.begin(at, start, draft.current?.state);
        draft.current = { tool: ready, state, isWaiting: false };
        const first = ready.shown(state);
        if (first) latest.current.preview?.draw(first.donor, first.piece);
      },
      extend(samples) {
        const now = draft.current;
        if (!now || now.isWaiting) return;
        const [state, grown] = now.tool.extend(now.state, samples);
        now.state = state;
        if (grown) latest.current.preview?.draw(grown.donor, grown.piece);
      },
      finish() {
        const now = draft.current;
        if (!now || now.isWaiting) return;
        const outcome = now.tool.finish(now.state);
        if (outcome?.kind === 'goOn') {
          now.isWaiting = true;
          return;
        }
        draft.current = null;
        if (outcome?.kind !== 'change') {
          if (outcome) latest.current.outlets.look(outcome);
          else latest.current.outlets.tooSmall(now.tool.hint);
          return;
        }
        const { operation } = outcome;
        const id = latest.current.outlets.change({ kind: 'add', operation });
        // What only changes in place is seen when its tile is there: there is nothing to paint in.
        if (!changesInPlace(operation)) latest.current.preview?.commit(placeOperation({ ...operation, id }));
      },
      giveUp() {
        if (!draft.current) return;
        draft.current = null;
        latest.current.preview?.giveUp();
      },
    }),
    [height, width],
  );
}
