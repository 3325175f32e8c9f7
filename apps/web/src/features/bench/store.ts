// Editing state of the bench: what is open, what is looked at, what the brush is.
import { create } from 'zustand';
import { createJSONStorage, persist, type PersistStorage, type StateStorage } from 'zustand/middleware';
import type { StrokeRecord } from '@blendrak/contract';

/** What the picture area shows. */
export type Look =
  { readonly kind: 'repaired' } | { readonly kind: 'before' } | { readonly kind: 'frame'; readonly frame: number };

export interface Brush {
  readonly sizePx: number;
  readonly hardness: number;
  readonly strength: number;
}

/** A place of the merge, px. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** A stroke that the server has not acknowledged yet. */
export interface PendingStroke {
  readonly id: string;
  readonly mergeId: string;
  readonly stroke: StrokeRecord;
}

interface BenchState {
  readonly openFinding: string | null;
  /** Frame the brush paints with; null when no brush is in hand. */
  readonly donor: number | null;
  /** What is looked at for good. */
  readonly look: Look;
  /** What is looked at while a key is held. */
  readonly peek: Look | null;
  readonly showMarks: boolean;
  readonly showProvenance: boolean;
  readonly brush: Brush;
  /** Where the pointer is within the picture; null outside. */
  readonly pointer: Place | null;
  /** Where it rested last: what the trace strip is about. Null for the open finding's own place. */
  readonly place: Place | null;
  /** Whether a stroke is being painted. */
  readonly drawing: boolean;
  /** Unsent strokes that were taken back, the last of them last. */
  readonly takenBack: readonly PendingStroke[];
  readonly pending: readonly PendingStroke[];
  set(change: Partial<Omit<BenchState, 'set' | 'takeDonor' | 'enqueue' | 'acknowledge'>>): void;
  /** Takes a frame in hand; a frame that is looked at is this one then. */
  takeDonor(frame: number | null): void;
  enqueue(stroke: PendingStroke): void;
  acknowledge(id: string): void;
}

function pageStorage(): StateStorage {
  const kept = new Map<string, string>();
  return {
    getItem: (name) => kept.get(name) ?? null,
    setItem: (name, value) => void kept.set(name, value),
    removeItem: (name) => void kept.delete(name),
  };
}

type Kept = Pick<BenchState, 'brush'>;

/** The browser's storage, written only when what is kept has changed: the pointer moves more often than that. */
function keptStorage(): PersistStorage<Kept> | undefined {
  // Where the browser keeps nothing, the brush lasts as long as the page.
  const storage = createJSONStorage<Kept>(() => (typeof localStorage === 'undefined' ? pageStorage() : localStorage));
  if (!storage) return undefined;
  let last: Kept | null = null;
  return {
    ...storage,
    setItem(name, value) {
      const { brush } = value.state;
      if (last?.brush === brush) return;
      last = { brush };
      return storage.setItem(name, value);
    },
  };
}

/** The store; the brush outlives the page by itself, unacknowledged strokes by the keeper (useKeptStrokes). */
export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      openFinding: null,
      donor: null,
      look: { kind: 'repaired' },
      peek: null,
      showMarks: true,
      showProvenance: false,
      brush: { sizePx: 90, hardness: 0.5, strength: 1 },
      pointer: null,
      place: null,
      drawing: false,
      takenBack: [],
      pending: [],
      set: (change) => set(change),
      takeDonor: (frame) =>
        set(({ look }) => ({
          donor: frame,
          ...(frame !== null && look.kind === 'frame' && { look: { kind: 'frame', frame } }),
        })),
      enqueue: (stroke) => set((s) => ({ pending: [...s.pending, stroke] })),
      acknowledge: (id) => set((s) => ({ pending: s.pending.filter((p) => p.id !== id) })),
    }),
    { name: 'blendrak-bench', partialize: ({ brush }) => ({ brush }), storage: keptStorage() },
  ),
);
