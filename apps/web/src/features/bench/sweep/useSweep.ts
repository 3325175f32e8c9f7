// Keeps count of what was looked at at full size, and tells the server now and then.
import { useCallback, useEffect, useState } from 'react';
import { api } from '../../../shared/api';
import type { BenchMerge } from '../../../shared/queries';
import { showing } from '../../../viewer/camera';
import type { DeepView } from '../../../viewer/deepView';
import { createSweep, type Sweeping } from './sweeping';
import { nextUnseen, packSeen, squaresInSight, unpackSeen } from './sweepGrid';

const QUARTER_MS = 250;
/** What was looked at is told so often. */
const TELL_MS = 5000;
/** Who has touched nothing for so long is not looking. */
const AWAY_MS = 30_000;

export interface SweepWork {
  /** Changes without anything being rendered that does not show it. */
  readonly sweeping: Sweeping;
  /** Travels to the next part that was not looked at. */
  next(): void;
}

/** @param isMergeShown whether what is looked at is the merge, not a map or a difference */
export function useSweep(deep: DeepView | null, { id, width, height }: BenchMerge, isMergeShown: boolean): SweepWork {
  const [sweeping] = useState(() => createSweep({ width, height }));

  useEffect(() => {
    let stale = false;
    void api
      .sweep(id)
      .then(({ seen }) => {
        if (!stale) sweeping.join(unpackSeen(seen));
      })
      // Without it the count begins anew on this page, and is told as soon as the server is back.
      .catch(() => undefined);
    const tell = (): void => {
      const told = sweeping.takeUntold();
      if (told) api.addToSweep(id, { ...told, seen: packSeen(told.seen) }).catch(() => sweeping.giveBack(told));
    };
    const timer = window.setInterval(tell, TELL_MS);
    window.addEventListener('pagehide', tell);
    return () => {
      stale = true;
      window.clearInterval(timer);
      window.removeEventListener('pagehide', tell);
      tell();
    };
  }, [id, sweeping]);

  useEffect(() => {
    if (!deep || !isMergeShown) return;
    let touched = Date.now();
    const touch = (): void => {
      touched = Date.now();
    };
    const timer = window.setInterval(() => {
      if (document.visibilityState !== 'visible' || Date.now() - touched > AWAY_MS) return;
      sweeping.look(squaresInSight(deep.camera(), { width, height }, window.devicePixelRatio));
    }, QUARTER_MS);
    const events = ['pointermove', 'pointerdown', 'keydown', 'wheel'] as const;
    for (const name of events) window.addEventListener(name, touch, { passive: true });
    return () => {
      window.clearInterval(timer);
      for (const name of events) window.removeEventListener(name, touch);
    };
  }, [deep, height, isMergeShown, sweeping, width]);

  const next = useCallback(() => {
    if (!deep) return;
    const camera = deep.camera('aim');
    const to = nextUnseen(sweeping.now(), camera, { width, height }, window.devicePixelRatio);
    if (!to) return;
    const middle = { x: to.x + to.width / 2, y: to.y + to.height / 2, width: 1, height: 1 };
    deep.setCamera(showing(camera, middle, 1 / window.devicePixelRatio));
  }, [deep, height, sweeping, width]);
  return { sweeping, next };
}
