// The layers of a pane in a viewer, kept up with the operations that the server knows.
import { useEffect, useMemo } from 'react';
import { placeOperation, type PlacedOperation } from '@blendrak/core/repair';
import type { BenchMerge } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import type { Pane } from '../looks';
import { viewerLayer, type RepairSight } from '../pictures';

/** The operations of a merge that act, in order, with the parts that they can touch. */
export function useInForce({ operations }: Pick<BenchMerge, 'operations'>): readonly PlacedOperation[] {
  return useMemo(
    () => operations.filter((o) => o.enabled && o.variant === '').map((o) => placeOperation(o)),
    [operations],
  );
}

export function useLayers(deep: DeepView | null, merge: BenchMerge, pane: Pane, sight: RepairSight): void {
  const { id, width, height } = merge;
  const { inForce, proposed } = sight;
  // A pane is data: two of the same layers are the same pane.
  const key = JSON.stringify(pane);
  useEffect(() => {
    if (!deep) return;
    const { layers, gain = 1 } = JSON.parse(key) as Pane;
    deep.setLayers(layers.map((layer) => viewerLayer({ id, width, height }, layer, { inForce, proposed })));
    deep.setGain(gain);
  }, [deep, height, id, inForce, key, proposed, width]);
}
