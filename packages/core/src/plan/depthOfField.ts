// Depth of field: what a slice of a stack holds. Distances in mm from the front principal plane.

/** Lens, aperture and accepted blur of a frame. */
export interface SliceOptics {
  readonly focalLengthMm: number;
  /** Marked f-number. */
  readonly fNumber: number;
  /** Diameter of the blur disc that still counts as sharp, on the sensor. */
  readonly cocMm: number;
}

/** What one frame holds sharp. */
export interface Slice {
  /** Focus distance, or depth in the subject for a rail; Infinity where the lens stands at infinity. */
  readonly focusMm: number;
  readonly nearMm: number;
  readonly farMm: number;
}

/** Hyperfocal distance H = f²/(N·c) + f. */
export function hyperfocalMm({ focalLengthMm: f, fNumber, cocMm }: SliceOptics): number {
  return (f * f) / (fNumber * cocMm) + f;
}

/** Near limit with the lens at infinity, f²/(N·c); careful people trust twice that. */
export function nearLimitAtInfinityMm({ focalLengthMm: f, fNumber, cocMm }: SliceOptics): number {
  return (f * f) / (fNumber * cocMm);
}

/**
 * Near limit s(H−f)/(H+s−2f) and far limit s(H−f)/(H−s), infinite from H on.
 * @param focusMm more than the focal length; may be Infinity
 */
export function sliceAt(optics: SliceOptics, focusMm: number): Slice {
  const f = optics.focalLengthMm;
  const h = hyperfocalMm(optics);
  if (focusMm === Infinity) return { focusMm, nearMm: h - f, farMm: Infinity };
  return {
    focusMm,
    nearMm: (focusMm * (h - f)) / (h + focusMm - 2 * f),
    farMm: focusMm >= h ? Infinity : (focusMm * (h - f)) / (h - focusMm),
  };
}

/** The slice whose near limit is given: sliceAt solved for s; infinity when the near limit allows it. */
export function sliceFromNear(optics: SliceOptics, nearMm: number): Slice {
  const f = optics.focalLengthMm;
  const h = hyperfocalMm(optics);
  if (nearMm >= h - f) return sliceAt(optics, Infinity);
  return sliceAt(optics, (nearMm * (h - 2 * f)) / (h - f - nearMm));
}

/** The slice whose far limit is given: sliceAt solved for s. */
export function sliceFromFar(optics: SliceOptics, farMm: number): Slice {
  const f = optics.focalLengthMm;
  const h = hyperfocalMm(optics);
  return sliceAt(optics, farMm === Infinity ? h : (farMm * h) / (h - f + farMm));
}

/**
 * Depth of field of a close-up: 2·N·c·(1 + m/P)/m².
 * @param magnification more than 0
 * @param pupilMagnification default 1
 */
export function closeUpDepthMm(fNumber: number, cocMm: number, magnification: number, pupilMagnification = 1): number {
  return (2 * fNumber * cocMm * (1 + magnification / pupilMagnification)) / (magnification * magnification);
}
