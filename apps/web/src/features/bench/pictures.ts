// The pictures of a merge as tiles: what each is called, and the name of the state in which a part of it is.
import { tileState, UNTOUCHED, type PlacedOperation } from '@blendrak/core/repair';
import type { PictureRegion, PictureSize } from '../../viewer/camera';
import type { Layer } from '../../viewer/layers';
import type { LookLayer, PictureOf } from './looks';

/** What a picture of a merge is called by the server. */
export function pictureId(mergeId: string, of: PictureOf): string {
  if (of === 'repaired') return `r-${mergeId}`;
  return of === 'before' ? `m-${mergeId}` : `f-${mergeId}-${of.frame}`;
}

/** A layer of a look as the viewer takes it. */
export function viewerLayer(
  merge: PictureSize & { readonly id: string },
  { of, ...rest }: LookLayer,
  operations: readonly PlacedOperation[],
  revision: string,
): Layer {
  const { width, height } = merge;
  const changes = of === 'repaired';
  return {
    id: pictureId(merge.id, of),
    width,
    height,
    revision: changes ? revision : '',
    versionAt: (region: PictureRegion, tileWidth) => (changes ? tileState(operations, region, tileWidth) : UNTOUCHED),
    ...rest,
  };
}
