// Regions from a strong core and a weaker surround.
import { dilate, findComponents, type Component, type Mask } from '../image';

export interface GrowOptions {
  /** Cells of a region's own evidence (gaps filled by closing do not count). */
  readonly minCells: number;
  /** Core cells a region must hold. */
  readonly minCore: number;
  /** Gaps up to twice this many cells are bridged. */
  readonly closeCells: number;
}

/**
 * Connected regions of `weak` cells that hold enough `strong` ones (hysteresis after J. Canny, PAMI 8(6), 1986).
 * @returns components whose cells are closed over small gaps, largest first
 */
export function growRegions(weak: Mask, strong: Uint8Array, options: GrowOptions): Component[] {
  // Most depths of a series have nothing to grow from.
  if (!strong.includes(1)) return [];
  const closed = dilate(dilate(weak, options.closeCells), -options.closeCells);
  return findComponents(closed)
    .filter((c) => {
      let [own, core] = [0, 0];
      for (const i of c.cells) {
        own += weak.data[i]!;
        core += strong[i]!;
      }
      return own >= options.minCells && core >= options.minCore;
    })
    .sort((a, b) => b.cells.length - a.cells.length);
}
