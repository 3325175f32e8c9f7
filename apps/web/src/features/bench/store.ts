// Editing state of the bench: what is open, what is looked at, what the brush is.
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { StrokeRecord } from '@blendrak/contract';

/** What the picture area shows. */
export type Look =
  { readonly kind: 'repaired' } | { readonly kind: 'before' } | { readonly kind: 'frame'; readonly frame: number };

export interface Brush {
  readonly sizePx: number;
  readonly hardness: number;
  readonly strength: number;
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
  readonly look: Look;
  readonly showMarks: boolean;
  readonly showProvenance: boolean;
  readonly brush: Brush;
  readonly pointer: { readonly x: number; readonly y: number } | null;
  readonly pending: readonly PendingStroke[];
  set(change: Partial<Omit<BenchState, 'set' | 'enqueue' | 'acknowledge'>>): void;
  enqueue(stroke: PendingStroke): void;
  acknowledge(id: string): void;
}

/** The store; brush and unacknowledged strokes outlive the page. */
export const useBench = create<BenchState>()(
  persist(
    (set) => ({
      openFinding: null,
      donor: null,
      look: { kind: 'repaired' },
      showMarks: true,
      showProvenance: false,
      brush: { sizePx: 90, hardness: 0.5, strength: 1 },
      pointer: null,
      pending: [],
      set: (change) => set(change),
      enqueue: (stroke) => set((s) => ({ pending: [...s.pending, stroke] })),
      acknowledge: (id) => set((s) => ({ pending: s.pending.filter((p) => p.id !== id) })),
    }),
    { name: 'blendrak-bench', partialize: ({ brush, pending }) => ({ brush, pending }) },
  ),
);
