// Explanation: which frame, or which two, each cell of a merge shows.
import { noiseAt } from '../image';
import type { CellFrame, CellStack } from '../cells';

/** Label of cells that no frame explains. */
export const NONE_OF_THEM = 255;

/** What a merge shows, per cell. */
export interface Explanation {
  /** Frame shown, or NONE_OF_THEM. */
  readonly labels: Uint8Array;
  /** The closest frame even where it does not explain the cell; 0 where no frame has picture. */
  readonly closest: Uint8Array;
  /** The next closest; NONE_OF_THEM where there is none. */
  readonly second: Uint8Array;
  /** Share of the second frame, were the cell a mixture of both; 0..1. */
  readonly share: Float32Array;
  /** 0..1: how clearly the closest frame beats the next, and how well it explains the cell. */
  readonly confidence: Float32Array;
}

/** How a frame is compared with the merge. */
export interface Likeness {
  /** Departure of the merge from a frame at a cell; Infinity where the frame has no say. */
  departure(frame: CellFrame, cell: number): number;
  /** Departure up to which the frame still explains the cell. */
  allowed(frame: CellFrame, cell: number): number;
}

/**
 * Compares the merge with every frame. Frames that were related to the merge in whatever tone are compared by that; the others by
 * their pixels.
 * @param stack with a merge; without one nothing is explained
 * @returns maps of the stack's cells
 * Cost: about 5 ns per cell and frame.
 */
export function explainCells(stack: CellStack): Explanation {
  const { merge, frames } = stack;
  const n = stack.width * stack.height;
  const labels = new Uint8Array(n).fill(NONE_OF_THEM);
  const closest = new Uint8Array(n);
  const second = new Uint8Array(n).fill(NONE_OF_THEM);
  const share = new Float32Array(n);
  const confidence = new Float32Array(n);
  const out = { labels, closest, second, share, confidence };
  if (!merge) return out;
  const { departure, allowed } = frames.some((f) => f.relation) ? BY_RELATION : pixelLikeness(stack);
  for (let i = 0; i < n; i++) {
    let [least, next, k, l] = [Infinity, Infinity, 0, NONE_OF_THEM];
    for (let f = 0; f < frames.length; f++) {
      const d = departure(frames[f]!, i);
      if (d < least) [next, l, least, k] = [least, least === Infinity ? NONE_OF_THEM : k, d, f];
      else if (d < next) [next, l] = [d, f];
    }
    closest[i] = k;
    if (least === Infinity) continue;
    const limit = allowed(frames[k]!, i);
    if (least <= limit) labels[i] = k;
    const lead = next === Infinity ? 1 : 1 - (least + limit * 0.05) / (next + limit * 0.05);
    confidence[i] = Math.max(0, lead) * Math.min(1, limit / Math.max(least, 1e-12));
    if (l === NONE_OF_THEM || next === Infinity) continue;
    second[i] = l;
    // On the line between two pictures, distances from them are as the other's share.
    const [a, b] = [Math.sqrt(least), Math.sqrt(next)];
    share[i] = a + b > 0 ? a / (a + b) : 0;
  }
  return out;
}

/** How frames in the merge's own tone are compared with it. */
export function pixelLikeness(stack: CellStack): Likeness {
  const [r, g, b] = stack.merge!.mean;
  // "The same picture": the luma noise of both pictures (twice the variance of one) with room for its scatter over about 20
  // independent pixels. Grain of the merge's own scatters by about as much as it is, once its mean is taken out.
  const scatter = Float64Array.from(
    r,
    (v, i) => 7 * noiseAt(stack.noise, 0.2126 * v + 0.7152 * g[i]! + 0.0722 * b[i]!) + (stack.grain?.[i] ?? 0),
  );
  return {
    departure: (frame, i) => (frame.valid[i] ? frame.residual[i]! : Infinity),
    // Beside it a quarter of what unrelated detail differs by (twice its variance) for small misregistration and for compression,
    // which eats at fine texture in both pictures.
    allowed: (frame, i) => scatter[i]! + 0.5 * (frame.fine[i]! + frame.middle[i]! + 0.25 * frame.coarse[i]!),
  };
}

/** Misfit, in units of what resampling leaves, up to which a frame in another tone is the same picture: a third of a px off. */
const SAME_MISFIT = 6;

const BY_RELATION: Likeness = {
  departure: ({ relation }, i) => (relation?.telling[i] ? relation.misfit[i]! : Infinity),
  allowed: () => SAME_MISFIT,
};
