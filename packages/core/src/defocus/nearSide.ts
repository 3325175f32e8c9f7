// Which end of the series is focused nearest: along jumps in depth the edge belongs to the near thing.
import type { CellStack } from '../cells';

/** Which end of the series is focused nearest. */
export type NearSide = 'first' | 'last';

/** An edge counts when its detail stands this far above noise. */
export const EDGE_OVER_NOISE = 40;

/** Votes for the near side: along jumps of the best frame, the edge itself is sharp in the near thing's frame. */
export interface NearSideVotes {
  readonly first: number;
  readonly last: number;
}

/**
 * Counts, along rows, which side of each jump in best frame owns the edge.
 * @param best sharpest frame per cell
 */
export function voteNearSide(stack: CellStack, best: Uint8Array): NearSideVotes {
  const { width, height, frames, noiseMiddle } = stack;
  let [first, last] = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 3; x < width - 6; x++) {
      const i = y * width + x;
      const a = best[i]!;
      const b = best[i + 3]!;
      if (Math.abs(a - b) < 3) continue;
      let [ea, eb] = [0, 0];
      for (let k = -3; k <= 6; k++) {
        ea = Math.max(ea, frames[a]!.middle[i + k]!);
        eb = Math.max(eb, frames[b]!.middle[i + k]!);
      }
      if (Math.max(ea, eb) < EDGE_OVER_NOISE * noiseMiddle[i]! || Math.max(ea, eb) < 2 * Math.min(ea, eb)) continue;
      const owner = ea > eb ? a : b;
      if (owner === Math.min(a, b)) first++;
      else last++;
    }
  }
  return { first, last };
}

/** The side with more votes; 'first' on a tie. */
export function nearSideOf(votes: NearSideVotes): NearSide {
  return votes.last > votes.first ? 'last' : 'first';
}
