// The frame that a merge resembles most, cell by cell.
import type { CellStack } from './gatherCells';

/** Index of the frame that differs least from the merge at a cell, of those that cover it; 0 where none does. */
export function closestFrame({ frames }: CellStack, cell: number): number {
  let closest = -1;
  for (let k = 0; k < frames.length; k++) {
    if (!frames[k]!.valid[cell]) continue;
    if (closest < 0 || frames[k]!.residual[cell]! < frames[closest]!.residual[cell]!) closest = k;
  }
  return Math.max(0, closest);
}
