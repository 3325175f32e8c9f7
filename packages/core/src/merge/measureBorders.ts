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
/** Larger grids are looked at more coarsely. */
const MOST_CELLS = 4e6;

/**
 * Measures how long the borders between frames are.
 * @param grid labels; 255 is no frame and has no borders
 * Cost: linear in the cells, for each label.
 */
export function measureBorders(grid: LabelGrid): Borders {
  const thin = Math.ceil(Math.sqrt((grid.width * grid.height) / MOST_CELLS));
  const { width, height, labels } = thin > 1 ? thinned(grid, thin) : grid;
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
  return { parts, lengthPx: edges * CELL_PX * thin };
}

/** Every so many-th cell across and down. */
function thinned({ width, height, labels }: LabelGrid, thin: number): LabelGrid {
  const [w, h] = [Math.ceil(width / thin), Math.ceil(height / thin)];
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) out[y * w + x] = labels[y * thin * width + x * thin]!;
  return { width: w, height: h, labels: out };
}
