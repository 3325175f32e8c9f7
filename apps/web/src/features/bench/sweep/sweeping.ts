// The sweep under way: what was looked at, and what of it has not been told to the server.
import type { PictureSize } from '../../../viewer/camera';
import { addLook, emptySweep, joinSweeps, type SweepGrid } from './sweepGrid';

export interface Sweeping {
  now(): SweepGrid;
  /** A quarter of a second more for some squares. */
  look(squares: readonly number[]): void;
  /** Adds what was looked at before, as the server has it. */
  join(seen: Uint8Array): void;
  /** What has not been told; null for nothing. It counts as told from now on. */
  takeUntold(): SweepGrid | null;
  /** It could not be told after all. */
  giveBack(untold: SweepGrid): void;
  onChange(listener: () => void): () => void;
}

export function createSweep(picture: PictureSize): Sweeping {
  let now = emptySweep(picture);
  let untold = emptySweep(picture);
  const listeners = new Set<() => void>();
  const become = (next: SweepGrid): void => {
    now = next;
    for (const listener of listeners) listener();
  };
  return {
    now: () => now,
    look(squares) {
      if (squares.length === 0) return;
      untold = addLook(untold, squares);
      become(addLook(now, squares));
    },
    join: (seen) => become(joinSweeps(now, { ...now, seen })),
    takeUntold() {
      const told = untold;
      untold = emptySweep(picture);
      return told.seen.some((v) => v > 0) ? told : null;
    },
    giveBack(grid) {
      untold = joinSweeps(untold, grid);
    },
    onChange(listener) {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
  };
}
