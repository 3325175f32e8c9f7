// Strokes that are on their way, or whose tiles are: shown over the picture until it shows them itself.
import { useEffect, useRef, useState } from 'react';
import {
  changesInPlace,
  operationsInTile,
  placeOperation,
  tileState,
  UNTOUCHED,
  type PlacedOperation,
} from '@blendrak/core/repair';
import type { Operation } from '@blendrak/contract';
import { tileUrl } from '../../../shared/api';
import type { BenchMerge } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import { openPreview, type Preview } from '../../../viewer/preview/openPreview';
import { isOrder } from '../operations/unsent';
import { pictureId } from '../pictures';
import { useBench } from '../store';
import { revisionOf } from '../pictures';

/**
 * @param inForce what the server knows, as the layers have it
 * @param foreseen what will be there when all is acknowledged
 * @param isVisible whether the repaired picture is looked at
 */
export function usePreview(
  deep: DeepView | null,
  merge: BenchMerge,
  inForce: readonly PlacedOperation[],
  foreseen: readonly Operation[],
  isVisible: boolean,
): Preview | null {
  const [preview, setPreview] = useState<Preview | null>(null);
  const { id, width, height } = merge;
  /** What the picture on the screen shows. */
  const [loaded, setLoaded] = useState<readonly PlacedOperation[]>([]);
  /** What was painted on this page, or found unsent by it. */
  const own = useRef(new Set<string>());
  const unsent = useBench((s) => s.unsent);

  useEffect(() => {
    if (!deep) return;
    const opened = openPreview(deep);
    setPreview(opened);
    return () => {
      setPreview(null);
      opened.close();
    };
  }, [deep]);

  useEffect(() => {
    if (!deep) return;
    const revision = revisionOf(inForce);
    return deep.onLoaded((layers) => {
      if (layers.some((l) => l.id === pictureId(id, 'repaired') && l.revision === revision)) setLoaded(inForce);
    });
  }, [deep, id, inForce]);

  useEffect(() => {
    for (const one of unsent) if (!isOrder(one) && one.change.kind === 'add') own.current.add(one.id);
    if (!preview) return;
    const shown = new Set(loaded.map((o) => o.id));
    const waiting = foreseen.filter((o) => o.enabled && o.variant === '' && own.current.has(o.id) && !shown.has(o.id));
    preview.show(
      {
        width,
        height,
        base: (region, w, h) => ({
          url: tileUrl(pictureId(id, 'repaired'), region, `${w},${h}`, tileState(loaded, region, w)),
          all: operationsInTile(loaded, region, w).map((o) => o.id),
        }),
        donor: (donor, region, w, h) =>
          tileUrl(pictureId(id, donor === null ? 'before' : { frame: donor }), region, `${w},${h}`, UNTOUCHED),
      },
      // What only changes in place paints nothing in: it is seen when its tile is there.
      waiting.filter((o) => !changesInPlace(o)).map((o) => placeOperation(o)),
    );
  }, [foreseen, height, id, loaded, preview, unsent, width]);

  useEffect(() => preview?.setVisible(isVisible), [isVisible, preview]);
  return preview;
}
