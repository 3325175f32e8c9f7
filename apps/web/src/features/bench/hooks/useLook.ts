// The panes of what is looked at, kept up with what a look depends on: whose turn it is, and where it is parted.
import { useEffect, useMemo, useState } from 'react';
import type { BenchMerge } from '../../../shared/queries';
import { toPicture } from '../../../viewer/camera';
import type { DeepView } from '../../../viewer/deepView';
import { lookOf, type LookState, type Pane } from '../looks';
import { useBench } from '../store';

export interface Looked {
  readonly panes: readonly Pane[];
  readonly isParted: boolean;
}

export function useLook(merge: BenchMerge, { id, frame }: LookState, deep: DeepView | null): Looked {
  const look = lookOf(id);
  const { turnsAfterMs, isParted = false } = look;
  const partedAt = useBench((s) => s.partedAt);
  const [isOther, setOther] = useState(false);
  useEffect(() => {
    setOther(false);
    if (turnsAfterMs === undefined) return;
    const timer = window.setInterval(() => setOther((was) => !was), turnsAfterMs);
    return () => window.clearInterval(timer);
  }, [turnsAfterMs]);
  // The line begins in the middle of what is in sight.
  useEffect(() => {
    if (!isParted || !deep) return;
    const camera = deep.camera('aim');
    useBench.getState().set({ partedAt: Math.round(toPicture(camera, { x: camera.width / 2, y: 0 }).x) });
  }, [deep, isParted]);
  const panes = useMemo(() => look.panes(merge, { frame, isOther, partedAt }), [frame, isOther, look, merge, partedAt]);
  return { panes, isParted };
}
