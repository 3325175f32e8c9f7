// A place of a merge as a small square picture, in a state of its repair.
import { tileState, type PlacedOperation } from '@blendrak/core/repair';
import { tileUrl } from '../../shared/api';
import type { PictureRegion, PictureSize } from '../../viewer/camera';
import { pictureId } from './pictures';

/** Less of a picture than this says nothing of where it is, px. */
const LEAST_SIDE_PX = 120;

/**
 * Address of a square picture around a place.
 * @param operations in force in the state that is shown, in order
 * @param sidePx of the picture as it is shown, or twice that for fine screens
 */
export function placePicture(
  merge: PictureSize & { readonly id: string },
  operations: readonly PlacedOperation[],
  place: PictureRegion,
  sidePx: number,
): string {
  const side = Math.min(
    merge.width,
    merge.height,
    Math.max(LEAST_SIDE_PX, Math.ceil(place.width), Math.ceil(place.height)),
  );
  const x = Math.round(Math.min(merge.width - side, Math.max(0, place.x + place.width / 2 - side / 2)));
  const y = Math.round(Math.min(merge.height - side, Math.max(0, place.y + place.height / 2 - side / 2)));
  const region = { x, y, width: side, height: side };
  // A small place is not blown up: the page does that.
  const px = Math.min(sidePx, side);
  return tileUrl(pictureId(merge.id, 'repaired'), region, `${px},${px}`, tileState(operations, region, px));
}
