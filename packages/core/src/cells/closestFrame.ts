// The frame that a merge resembles most, cell by cell.
import type { CellStack } from './gatherCells';

/** Index of the frame that differs least from the merge at a cell. */
export function closestFrame({ frames }: CellStack, cell: number): number {
  let closest = 0;
  for (let k = 1; k < frames.length; k++) {
    if (frames[k]!.residual[cell]! < frames[closest]!.residual[cell]!) closest = k;
  }
  return closest;
}
