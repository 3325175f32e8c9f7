// Blur of a point on the sensor: out of focus, by diffraction, by the pixel itself, by motion.

/** Green light, in the middle of what the eye and the sensor see. */
const WAVELENGTH_MM = 550e-6;

/**
 * Diameter of the disc that a point out of focus makes: b = (f/N) · f/(s−f) · |d−s|/d.
 * @param focusMm s, more than the focal length; may be Infinity
 * @param distanceMm d, more than 0; may be Infinity
 * @returns mm on the sensor
 */
export function defocusBlurMm(focalLengthMm: number, fNumber: number, focusMm: number, distanceMm: number): number {
  // |d−s|/(d·(s−f)) written with 1/s and 1/d, so that either may be at infinity.
  const focus = 1 / focusMm;
  return ((focalLengthMm / fNumber) * focalLengthMm * Math.abs(focus - 1 / distanceMm)) / (1 - focalLengthMm * focus);
}

/**
 * The same in a close-up, off the plane of focus by a small depth: b = |δ|·m²/(N·(1 + m/P)), the blur that the close-up
 * depth of field accepts at its ends.
 */
export function closeUpBlurMm(
  fNumber: number,
  magnification: number,
  offsetMm: number,
  pupilMagnification = 1,
): number {
  return (Math.abs(offsetMm) * magnification * magnification) / (fNumber * (1 + magnification / pupilMagnification));
}

/** Diameter of the diffraction disc: 2.44·λ·N for the effective f-number, λ = 550 nm (Airy 1835). */
export function airyDiscMm(effectiveFNumber: number): number {
  return 2.44 * WAVELENGTH_MM * effectiveFNumber;
}

/** Blur in all: √(defocus² + diffraction² + pixel²). */
export function totalBlurMm(defocusMm: number, diffractionMm: number, pixelPitchMm: number): number {
  return Math.hypot(defocusMm, diffractionMm, pixelPitchMm);
}

/** What moves across the view. */
export interface Motion {
  /** Speed across the view. */
  readonly speedMmPerS: number;
  readonly distanceMm: number;
  readonly focalLengthMm: number;
  readonly pixelPitchMm: number;
}

/** How far a moving thing travels on the sensor while the shutter is open: u·t·f/(d·p) px. */
export function motionBlurPx(motion: Motion, exposureS: number): number {
  return (motion.speedMmPerS * exposureS * motion.focalLengthMm) / (motion.distanceMm * motion.pixelPitchMm);
}

/** Longest exposure that keeps motion within a limit; Infinity for what stands still. */
export function longestExposureS(motion: Motion, limitPx: number): number {
  return motion.speedMmPerS === 0 ? Infinity : limitPx / motionBlurPx(motion, 1);
}
