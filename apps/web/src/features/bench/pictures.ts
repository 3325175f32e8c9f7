// The pictures of a merge as tiles: what each is called, and the name of the state in which a part of it is.
import { tileState, UNTOUCHED, type PlacedOperation } from '@blendrak/core/repair';
import type { PictureRegion, PictureSize } from '../../viewer/camera';
import type { Layer } from '../../viewer/layers';
import type { LookLayer, PictureOf } from './looks';

/** What a picture of a merge is called by the server. */
export function pictureId(mergeId: string, of: PictureOf): string {
  if (of === 'repaired' || of === 'proposed') return `r-${mergeId}`;
  if (of === 'before') return `m-${mergeId}`;
  return 'map' in of ? `e-${mergeId}-${of.map}` : `f-${mergeId}-${of.frame}`;
}

/** What of a repair can be seen. */
export interface RepairSight {
  /** The operations that act, in order. */
  readonly inForce: readonly PlacedOperation[];
  /** One that is proposed for the finding in hand. */
  readonly proposed: PlacedOperation | null;
}

/** Names a state of the whole picture: as operations are never changed, their names in order do. */
export function revisionOf(operations: readonly PlacedOperation[]): string {
  return operations.map((o) => o.id).join(' ');
}

/** A layer of a look as the viewer takes it. */
export function viewerLayer(
  merge: PictureSize & { readonly id: string },
  { of, leftOf, ...rest }: LookLayer,
  { inForce, proposed }: RepairSight,
): Layer {
  const { width, height } = merge;
  const changes = of === 'repaired' || of === 'proposed';
  const operations = of === 'proposed' && proposed ? [...inForce, proposed] : inForce;
  return {
    id: pictureId(merge.id, of),
    width,
    height,
    revision: changes ? revisionOf(operations) : '',
    versionAt: (region: PictureRegion, tileWidth) => (changes ? tileState(operations, region, tileWidth) : UNTOUCHED),
    ...(leftOf !== undefined && { clip: { x: 0, y: 0, width: Math.max(0, Math.min(width, leftOf)), height } }),
    ...rest,
  };
}
