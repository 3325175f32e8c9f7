// What turning beside the entrance pupil costs.

export interface ParallaxRequest {
  /** Distance from the entrance pupil to the turning axis; the sign does not matter. */
  readonly pupilOffsetMm: number;
  /** Turn between neighbouring frames. */
  readonly turnDeg: number;
  readonly nearestMm: number;
  /** Infinity for an open view. */
  readonly farthestMm: number;
  readonly focalLengthMm: number;
  readonly pixelPitchMm: number;
}

/**
 * Shift between the nearest and the farthest thing in neighbouring frames:
 * e·(1/d_near − 1/d_far)·f/p with e = 2·r·sin(Δ/2), px.
 */
export function parallaxPx(request: ParallaxRequest): number {
  const { pupilOffsetMm, turnDeg, nearestMm, farthestMm, focalLengthMm, pixelPitchMm } = request;
  const moved = 2 * Math.abs(pupilOffsetMm) * Math.sin((turnDeg * Math.PI) / 360);
  return (moved * (1 / nearestMm - 1 / farthestMm) * focalLengthMm) / pixelPitchMm;
}

/** Below half a pixel nothing shows; up to two a seam through texture hides it; beyond that edges break. */
export type ParallaxVerdict = 'unseen' | 'hidden-by-seam' | 'breaks-edges';

/** What a parallax between neighbouring frames means for a merge. @param px of the frame, 0 or more */
export function judgeParallax(px: number): ParallaxVerdict {
  if (px < 0.5) return 'unseen';
  return px <= 2 ? 'hidden-by-seam' : 'breaks-edges';
}
