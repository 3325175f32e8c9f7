// The lens: a thin lens with unit focusing, and the faults that uncorrected frames carry.

/** A lens and the sensor's pitch behind it; stays the same over a series. */
export interface Lens {
  readonly focalLengthMm: number;
  readonly fNumber: number;
  readonly pixelPitchMm: number;
  /** Radial distortion: undistorted radius = r · (1 + distortion · r²), r in half diagonals; 0 is corrected. */
  readonly distortion: number;
  /** Light lost in the corner, as a share (0..0.8); 0 is corrected. */
  readonly vignetting: number;
  /** How much larger red and how much smaller blue is drawn, as a share; 0 is corrected. */
  readonly lateralColour: number;
  /** Radius of the extra blur disc in the very corner in px, falling with the fourth power of the radius. */
  readonly cornerBlurPx: number;
}

/** A corrected lens. */
export const CORRECTED = { distortion: 0, vignetting: 0, lateralColour: 0, cornerBlurPx: 0 } as const;

/** What the optics of a close-up need. */
export type ThinLens = Pick<Lens, 'focalLengthMm' | 'fNumber' | 'pixelPitchMm'>;

/**
 * Diameter of the blur disc on the sensor in px of a point at depthMm when focused at focusMm.
 * b = (f/N) · f/(s−f) · |d−s|/d, thin lens, lengths in mm; s may be Infinity: b = f²/(N·d).
 */
export function blurDiameterPx(lens: ThinLens, depthMm: number, focusMm: number): number {
  const { focalLengthMm: f, fNumber, pixelPitchMm } = lens;
  // |d−s|/(d·(s−f)) written with 1/s and 1/d, so that either may be at infinity.
  const inverse = 1 / focusMm;
  return ((f / fNumber) * f * Math.abs(inverse - 1 / depthMm)) / (1 - f * inverse) / pixelPitchMm;
}

/** Image distance v = f·s/(s−f), f at infinity: the picture's scale follows it (breathing of a unit-focusing lens). */
export function imageDistanceMm(lens: ThinLens, focusMm: number): number {
  return lens.focalLengthMm / (1 - lens.focalLengthMm / focusMm);
}

/** Share of light that reaches a point at radius r (half diagonals): (1 − loss · r²), never below 0. */
export function vignetteAt(vignetting: number, radius: number): number {
  return Math.max(0, 1 - vignetting * radius * radius);
}

/** Green light, in the middle of what the eye and the sensor see. */
const WAVELENGTH_MM = 550e-6;
/** Pixel aperture and demosaicing together act like a Gaussian of this deviation, px. */
const SENSOR_SIGMA_PX = 0.45;

/**
 * Standard deviation in px of the blur that even a point in focus suffers: diffraction at the effective f-number
 * N·(1 + m), whose core is close to a Gaussian of 0.42·λ·N (Zhang et al. 2007), and the sensor's own.
 */
export function leastBlurPx(lens: ThinLens, focusMm: number): number {
  const { focalLengthMm: f, fNumber, pixelPitchMm } = lens;
  const magnification = Number.isFinite(focusMm) ? f / (focusMm - f) : 0;
  return Math.hypot((0.42 * WAVELENGTH_MM * fNumber * (1 + magnification)) / pixelPitchMm, SENSOR_SIGMA_PX);
}
