// Editing state of the bench: what is open, what is looked at, what is in hand.
import { create } from 'zustand';
import { createJSONStorage, persist, type PersistStorage, type StateStorage } from 'zustand/middleware';
import type { Place } from '../../viewer/camera';
import type { LookState } from './looks';
import type { Unsent } from './operations/unsent';
import type { Brush, ToolId } from './tools';

export type { Place };

/** How the bench is laid out; kept beyond the page. */
export interface Layout {
  /** Side of the patches in the trace strip, px. */
  readonly patchPx: number;
  readonly isCardOpen: boolean;
}

interface BenchState {
  readonly openFinding: string | null;
  /** Pin whose reading is shown, while no finding is open. */
  readonly openPin: string | null;
  /** An outline drawn by hand that has not been named. */
  readonly outlined: readonly (readonly [number, number])[] | null;
  /** What is in hand; null for nothing. */
  readonly tool: ToolId | null;
  /** Frame that is painted with; null while none has been chosen. */
  readonly donor: number | null;
  /** What is looked at for good. */
  readonly look: LookState;
  /** What is looked at while a key is held. */
  readonly peek: LookState | null;
  /** Where a look that is parted by a line is parted, picture px from the left. */
  readonly partedAt: number;
  /** Whether findings are listed that are not seen where the picture will be looked at, or too unsure. */
  readonly alsoHeldBack: boolean;
  readonly showMarks: boolean;
  readonly showProvenance: boolean;
  /** Operation whose mask is shown over the picture. */
  readonly masked: string | null;
  readonly brush: Brush;
  readonly layout: Layout;
  /** Where the pointer or the cross rested last: what the trace strip is about. Null for the open finding's own place. */
  readonly place: Place | null;
  /** Changes that the server has not acknowledged, of all merges and pages, in order. */
  readonly unsent: readonly Unsent[];
  /** Whether the server did not answer when it was last asked to take one. */
  readonly isAway: boolean;
  set(change: Partial<Omit<BenchState, 'set' | 'takeDonor' | 'takeTool' | 'layOut'>>): void;
  /** Takes a frame in hand to paint with; a frame that is looked at is this one then. Null puts everything away. */
  takeDonor(frame: number | null): void;
  takeTool(tool: ToolId | null): void;
  layOut(change: Partial<Layout>): void;
}

function pageStorage(): StateStorage {
  const kept = new Map<string, string>();
  return {
    getItem: (name) => kept.get(name) ?? null,
    setItem: (name, value) => void kept.set(name, value),
    removeItem: (name) => void kept.delete(name),
  };
}

type Kept = Pick<BenchState, 'brush' | 'layout'>;

/** The browser's storage, written only when what is kept has changed. */
function keptStorage(): PersistStorage<Kept> | undefined {
  // Where the browser keeps nothing, it lasts as long as the page.
  const storage = createJSONStorage<Kept>(() => (typeof localStorage === 'undefined' ? pageStorage() : localStorage));
  if (!storage) return undefined;
  let last: Kept | null = null;
  return {
    ...storage,
    setItem(name, value) {
      const { brush, layout } = value.state;
      if (last?.brush === brush && last.layout === layout) return;
      last = { brush, layout };
      return storage.setItem(name, value);
    },
  };
}

/** On a narrow screen the card would lie over the picture: there it is opened when it is wanted. */
function startsWithCard(): boolean {
  return typeof window === 'undefined' || window.innerWidth > 1150;
}

/** The store; brush and layout outlive the page by themselves, unsent changes by the outbox. */
export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      openFinding: null,
      openPin: null,
      outlined: null,
      tool: null,
      donor: null,
      look: { id: 'repaired', frame: 0 },
      peek: null,
      partedAt: 0,
      alsoHeldBack: false,
      showMarks: true,
      showProvenance: false,
      masked: null,
      brush: { sizePx: 90, hardness: 0.5, strength: 1 },
      layout: { patchPx: 48, isCardOpen: startsWithCard() },
      place: null,
      unsent: [],
      isAway: false,
      set: (change) => set(change),
      takeDonor: (frame) =>
        set(({ look }) => ({
          donor: frame,
          tool: frame === null ? null : 'paint',
          ...(frame !== null && { look: { ...look, frame } }),
        })),
      takeTool: (tool) => set({ tool }),
      layOut: (change) => set(({ layout }) => ({ layout: { ...layout, ...change } })),
    }),
    { name: 'blendrak-bench', partialize: ({ brush, layout }) => ({ brush, layout }), storage: keptStorage() },
  ),
);
