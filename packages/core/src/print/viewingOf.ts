// A way of looking, as people say it, for a picture: the size of its px there and the distance.
import { CLOSE_LOOK_MM } from './checkPrint';
import { ON_SCREEN, type Viewing } from './visibility';

/** How a picture will be looked at. */
export type WayOfLooking =
  | { readonly kind: 'screen' }
  | {
      readonly kind: 'print';
      readonly longSideMm: number;
      /** Null: the print's diagonal, as is usual. */
      readonly distanceMm: number | null;
    };

/**
 * The size of a px and the distance that a way of looking means for a picture.
 * @param size of the picture, px
 */
export function viewingOf(
  way: WayOfLooking,
  { width, height }: { readonly width: number; readonly height: number },
): Viewing {
  if (way.kind === 'screen') return ON_SCREEN;
  const pitchMm = way.longSideMm / Math.max(width, height);
  const diagonal = pitchMm * Math.hypot(width, height);
  return { pitchMm, distanceMm: way.distanceMm ?? Math.max(CLOSE_LOOK_MM, diagonal) };
}
