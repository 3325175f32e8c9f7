// Where a frame of a stack or bracket lies, from the maps that were fitted to its set.
import type { FittedPlanes } from '../jobs';
import { type FrameGeometry, type LocalField, type Similarity, similarityGeometry } from '@blendrak/core/frame';

/**
 * @param pose the similarity from which the fit began, frame px → reference px
 */
export function placeOf(
  { model, toFrame, locals }: FittedPlanes,
  k: number,
  reference: number,
  pose: Similarity,
): FrameGeometry {
  const local = locals[k] ?? null;
  if (k === reference) return similarityGeometry(pose);
  // Similarities are solved over all pairs at once, which no fit from frame to frame betters.
  const exact: FrameGeometry =
    model === 'similarity' ? similarityGeometry(pose) : { model: 'homography', toFrame: toFrame[k]! };
  return local ? { ...exact, local } : exact;
}

/** Most that the local shifts of a set bend a straight line, px: twice the longest shift; null where there are none. */
export function fieldBend(locals: readonly (LocalField | null)[]): number | null {
  const lengths = locals.flatMap((f) => (f ? f.dx.map((dx, n) => Math.hypot(dx, f.dy[n]!)) : []));
  return lengths.length === 0 ? null : 2 * lengths.reduce((most, l) => Math.max(most, l), 0);
}
