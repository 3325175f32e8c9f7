// Which frame each cell of a merge made elsewhere came from.
import { noiseAt } from '../image';
import type { CellStack } from '../cells';

/** Label of cells that no frame explains. */
export const NONE_OF_THEM = 255;

export interface InferredLabels {
  /** Frame index per cell, or NONE_OF_THEM. */
  readonly labels: Uint8Array;
  /** The closest frame even where it does not explain the cell. */
  readonly closest: Uint8Array;
  /** 0..1: how clearly the closest frame beats the next, and how well it explains the cell. */
  readonly confidence: Float32Array;
}

/**
 * Compares the merge with every frame: the label is the frame with the least residual, if that residual is within what
 * noise, a third of a pixel of misregistration and resampling explain.
 */
export function inferLabels(stack: CellStack): InferredLabels {
  const { merge, frames } = stack;
  const n = stack.width * stack.height;
  const labels = new Uint8Array(n).fill(NONE_OF_THEM);
  const closest = new Uint8Array(n);
  const confidence = new Float32Array(n);
  if (!merge) return { labels, closest, confidence };
  for (let i = 0; i < n; i++) {
    let [least, next, k] = [Infinity, Infinity, 0];
    for (let f = 0; f < frames.length; f++) {
      if (!frames[f]!.valid[i]) continue;
      const r = frames[f]!.residual[i]!;
      if (r < least) [next, least, k] = [least, r, f];
      else if (r < next) next = r;
    }
    closest[i] = k;
    if (least === Infinity) continue;
    const luma = 0.2126 * merge.mean[0][i]! + 0.7152 * merge.mean[1][i]! + 0.0722 * merge.mean[2][i]!;
    const allowed = allowedResidual(stack, i, k, noiseAt(stack.noise, luma));
    if (least <= allowed) labels[i] = k;
    const lead = next === Infinity ? 1 : 1 - (least + allowed * 0.05) / (next + allowed * 0.05);
    confidence[i] = Math.max(0, lead) * Math.min(1, allowed / Math.max(least, 1e-12));
  }
  return { labels, closest, confidence };
}

/**
 * Residual that still counts as "the same picture": the luma noise of both pictures (twice the variance of one) with room
 * for its scatter over about 20 independent pixels, and a quarter of what unrelated detail differs by (twice its variance)
 * for small misregistration and for compression, which eats at fine texture in both pictures.
 */
function allowedResidual(stack: CellStack, cell: number, frame: number, noiseVariance: number): number {
  const f = stack.frames[frame]!;
  const detail = f.fine[cell]! + f.middle[cell]! + 0.25 * f.coarse[cell]!;
  return 7 * noiseVariance + 0.5 * detail;
}
