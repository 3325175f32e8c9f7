// Sharpening for output: how wide it may reach so that the eye, at its distance, sees crispness and no rims.
import { ACUITY_ARCMIN } from './acuity';
import type { Viewing } from './visibility';

/** Narrower does nothing between pixels, wider shows as rims on a screen whatever the distance, px. */
const [NARROWEST, WIDEST] = [0.6, 3];

/**
 * Standard deviation of the blur that an unsharp mask takes as its reference: half of what the eye resolves (one arcminute) at the
 * distance, so that the rims it draws melt into the edge.
 * @returns px of the picture, 0.6 to 3
 */
export function outputSharpeningPx({ pitchMm, distanceMm }: Viewing): number {
  const resolvedMm = 2 * distanceMm * Math.tan((ACUITY_ARCMIN / 60 / 2) * (Math.PI / 180));
  return Math.min(WIDEST, Math.max(NARROWEST, resolvedMm / pitchMm / 2));
}
