// The sharpest frame of each cell.
import type { CellStack } from './gatherCells';

/** A cell's detail must stand this many times above its noise before its sharpness is believed. */
export const SIGNIFICANT_OVER_NOISE = 2;

/** Index of the frame with the most middle-band detail per cell, among frames that cover it (0 where none does). */
export function sharpestFrames(stack: CellStack): Uint8Array {
  const best = new Uint8Array(stack.width * stack.height);
  const top = new Float32Array(best.length).fill(-1);
  stack.frames.forEach((frame, k) => {
    for (let i = 0; i < best.length; i++) {
      if (frame.valid[i] && frame.middle[i]! > top[i]!) {
        top[i] = frame.middle[i]!;
        best[i] = k;
      }
    }
  });
  return best;
}
