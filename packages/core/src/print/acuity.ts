// What the eye resolves on paper.

/** A healthy eye tells details of one arc minute apart (Snellen 20/20: 30 cycles per degree). */
export const ACUITY_ARCMIN = 1;

const MM_PER_INCH = 25.4;
const ARCMIN_PER_RAD = (180 * 60) / Math.PI;

/** Angle of one printed pixel at a viewing distance, arc minutes. */
export function pixelAngleArcmin(ppi: number, viewingDistanceMm: number): number {
  return Math.atan(MM_PER_INCH / ppi / viewingDistanceMm) * ARCMIN_PER_RAD;
}

/** Pixels per inch beyond which the eye sees no more at a viewing distance. */
export function resolvablePpi(viewingDistanceMm: number): number {
  return MM_PER_INCH / (viewingDistanceMm * Math.tan(ACUITY_ARCMIN / ARCMIN_PER_RAD));
}
