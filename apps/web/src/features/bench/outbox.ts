// What undo and redo mean while strokes have not reached the server yet.
import type { PendingStroke } from './store';

/** What to do: take an unsent stroke out of the row, wait until the row is empty, or ask the server. */
export type UndoStep =
  { readonly kind: 'drop'; readonly stroke: PendingStroke } | { readonly kind: 'wait' } | { readonly kind: 'ask' };

/**
 * What undo takes back: the stroke painted last, wherever it is.
 * @param pending unsent strokes of the merge, in order; the first is on its way and may have arrived
 */
export function undoStep(pending: readonly PendingStroke[]): UndoStep {
  const last = pending.at(-1);
  if (!last) return { kind: 'ask' };
  return pending.length > 1 ? { kind: 'drop', stroke: last } : { kind: 'wait' };
}
