// An area that is being marked: its state, kept at hand between two pictures of it.
import { useRef, useState } from 'react';
import type { AreaShapes } from '@blendrak/contract';
import { beginArea, markedShapes, type AreaState } from './areaTool';

export interface Area {
  readonly state: AreaState;
  /** Moves on from the state as it is now, which may be newer than what is on the screen. */
  step(next: (state: AreaState) => AreaState): void;
}

/** @param onChange called when what is marked has changed, not while a stroke is being painted */
export function useArea(start: AreaShapes, onChange: (shapes: AreaShapes) => void): Area {
  const [state, setState] = useState<AreaState>(() => beginArea(start));
  // Pointer moves come faster than renders: the next one must not begin from an older state.
  const latest = useRef(state);
  const step = (next: (state: AreaState) => AreaState): void => {
    const before = latest.current;
    const after = next(before);
    if (after === before) return;
    latest.current = after;
    setState(after);
    if (after.done !== before.done || after.corners !== before.corners) onChange(markedShapes(after));
  };
  return { state, step };
}
