// Which stroke last changed a part of the picture: it names the state of that part, so that others stay as loaded.
import type { SavedStroke } from '@blendrak/contract';
import type { Region } from '@blendrak/core/image';
import { strokeRegion } from '@blendrak/core/repair';

// Resampling of a reduced tile reads a little beyond it.
const MARGIN_TILE_PX = 2;

/**
 * The last stroke in force that touches a part of the picture; "0" while none does. As strokes are undone from the last
 * and redone in order, it stands for all strokes before it too.
 * @param scale picture px per tile px
 */
export function strokeAt(strokes: readonly SavedStroke[], region: Region, scale: number): string {
  const margin = MARGIN_TILE_PX * scale;
  return (
    strokes.findLast((stroke) => {
      if (stroke.undone) return false;
      const s = strokeRegion(stroke);
      return (
        s.x < region.x + region.width + margin &&
        s.y < region.y + region.height + margin &&
        s.x + s.width > region.x - margin &&
        s.y + s.height > region.y - margin
      );
    })?.id ?? '0'
  );
}
