// How cut up a merge is: parts that come from one frame each, and the borders between them. Fewer and shorter is better.
import { findComponents } from '../image';
import { CELL_PX } from '../kernels';
import type { LabelGrid } from './regulariseLabels';

export interface Borders {
  /** Connected parts of one label each. */
  readonly parts: number;
  readonly lengthPx: number;
}

/** Parts smaller than this are counted as crumbs of their surroundings, cells. */
const CRUMB_CELLS = 4;

/**
 * @param grid labels; 255 is no frame and has no borders
 * Cost: linear in the cells, for each label.
 */
export function measureBorders({ width, height, labels }: LabelGrid): Borders {
  let edges = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const own = labels[y * width + x]!;
      if (own === 255) continue;
      const right = x + 1 < width ? labels[y * width + x + 1]! : own;
      const below = y + 1 < height ? labels[(y + 1) * width + x]! : own;
      if (right !== own && right !== 255) edges += 1;
      if (below !== own && below !== 255) edges += 1;
    }
  }
  let parts = 0;
  for (const label of new Set(labels)) {
    if (label === 255) continue;
    const data = Uint8Array.from(labels, (l) => (l === label ? 1 : 0));
    parts += findComponents({ width, height, data }).filter((c) => c.cells.length >= CRUMB_CELLS).length;
  }
  return { parts, lengthPx: edges * CELL_PX };
}
