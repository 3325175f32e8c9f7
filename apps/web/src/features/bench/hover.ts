// Where the pointer or the keyboard's cross is, in picture px: told to those who draw it, without anything being rendered anew.
import type { Place } from '../../viewer/camera';

export interface Hover {
  /** Null while it is not on the picture. */
  at(): Place | null;
  move(to: Place | null): void;
  onMove(listener: (at: Place | null) => void): () => void;
}

export function createHover(): Hover {
  let now: Place | null = null;
  const listeners = new Set<(at: Place | null) => void>();
  return {
    at: () => now,
    move(to) {
      if (to === now) return;
      now = to;
      for (const listener of listeners) listener(to);
    },
    onMove(listener) {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
  };
}
