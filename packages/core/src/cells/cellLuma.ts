// How light the cells of a picture are.
import type { CellPicture } from './gatherCells';

/** Mean luma per cell, encoded 0..1 (ITU-R BT.709 weights). */
export function cellLuma({ mean: [r, g, b] }: Pick<CellPicture, 'mean'>): Float32Array {
  return r.map((v, i) => 0.2126 * v + 0.7152 * g[i]! + 0.0722 * b[i]!);
}
