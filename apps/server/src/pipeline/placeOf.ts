// Where a frame of a stack or bracket lies, from the maps that were fitted to its set.
import {
  invertSimilarity,
  similarityMatrix,
  touchingSimilarity,
  type FrameView,
  type LocalField,
  type Similarity,
} from '@blendrak/core/image';
import type { FittedPlanes } from '../jobs';
import type { PlacedFrame } from './types';

/**
 * @param pose the similarity from which the fit began, frame px → reference px
 * @returns a similarity alone where that says all
 */
export function placeOf(
  { model, toFrame, locals }: FittedPlanes,
  k: number,
  reference: number,
  pose: Similarity,
  size: { readonly width: number; readonly height: number },
): Pick<PlacedFrame, 'toMerge' | 'view'> {
  const local = locals[k] ?? null;
  if (k === reference || (model === 'similarity' && !local)) return { toMerge: pose };
  // Similarities are solved over all pairs at once, which no fit from frame to frame betters.
  const exact = model === 'similarity' ? similarityMatrix(invertSimilarity(pose)) : toFrame[k]!;
  const view: FrameView = { model: 'homography', toFrame: exact, ...(local && { local }) };
  return { toMerge: touchingSimilarity(view, size.width, size.height), view };
}

/** Most that the local shifts of a set bend a straight line, px: twice the longest shift; null where there are none. */
export function fieldBend(locals: readonly (LocalField | null)[]): number | null {
  const lengths = locals.flatMap((f) => (f ? f.dx.map((dx, n) => Math.hypot(dx, f.dy[n]!)) : []));
  return lengths.length === 0 ? null : 2 * lengths.reduce((most, l) => Math.max(most, l), 0);
}
