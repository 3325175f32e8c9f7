// What a setting of a camera's focus bracketing really does, measured from a sequence.
import { badParameter } from '../checks';
import { sliceAt, type SliceOptics } from './depthOfField';
import { imageDistanceMm } from './thinLens';

export interface StepCalibration {
  /** Mean focus step from frame to frame, dioptres; positive toward infinity. */
  readonly stepDioptres: number;
  /** Standard error of it. */
  readonly errorDioptres: number;
  /** Step as a share of the depth of field at the middle of the sequence: below 1 slices overlap. */
  readonly fraction: number;
  readonly fractionError: number;
  /** Focus distances that follow, mm; Infinity beyond infinity. */
  readonly focusMm: readonly number[];
}

/**
 * Estimates the focus step from how the picture's scale changes (breathing of a unit-focusing lens): the scale follows the
 * image distance v, 1/s = 1/f − 1/v, and a straight line through 1/s over the frame number has the step as its slope.
 * @param scales size of the picture in each frame against the first, in shooting order; two or more
 * @param optics focal length, f-number and accepted blur of the frames
 * @param firstFocusMm distance at which the first frame was focused
 * @throws for fewer than two frames, or a distance inside the focal length
 */
export function calibrateStep(scales: readonly number[], optics: SliceOptics, firstFocusMm: number): StepCalibration {
  if (scales.length < 2) throw badParameter('calibrateStep.scales', 'at least 2 frames', scales.length);
  if (!scales.every((s) => s > 0 && Number.isFinite(s)))
    throw badParameter('calibrateStep.scales', 'positive numbers', scales);
  const f = optics.focalLengthMm;
  const first = imageDistanceMm(f, firstFocusMm);
  const perMm = scales.map((scale) => 1 / f - 1 / (first * (scale / scales[0]!)));
  return calibrateFromInverse(perMm, optics);
}

/**
 * The same where every frame says its focus distance.
 * @param focusMm distances in shooting order; two or more, Infinity allowed
 * @throws ParameterError for fewer than two frames
 */
export function calibrateFromDistances(focusMm: readonly number[], optics: SliceOptics): StepCalibration {
  if (focusMm.length < 2) throw badParameter('calibrateFromDistances.focusMm', 'at least 2 frames', focusMm.length);
  return calibrateFromInverse(
    focusMm.map((mm) => 1 / mm),
    optics,
  );
}

function calibrateFromInverse(perMm: readonly number[], optics: SliceOptics): StepCalibration {
  const n = perMm.length;
  const middle = (n - 1) / 2;
  const mean = perMm.reduce((s, v) => s + v, 0) / n;
  let sxx = 0;
  let sxy = 0;
  perMm.forEach((v, k) => {
    sxx += (k - middle) ** 2;
    sxy += (k - middle) * (v - mean);
  });
  const slope = sxy / sxx;
  const rest = perMm.reduce((s, v, k) => s + (v - mean - slope * (k - middle)) ** 2, 0);
  // Two frames leave nothing to judge the scatter by.
  const error = n > 2 ? Math.sqrt(rest / (n - 2) / sxx) : Infinity;
  const slice = sliceAt(optics, mean > 0 ? Math.max(1 / mean, optics.focalLengthMm * 1.001) : Infinity);
  const depth = 1 / slice.nearMm - (slice.farMm === Infinity ? 0 : 1 / slice.farMm);
  return {
    // 1/mm are thousands of dioptres; toward infinity 1/s falls.
    stepDioptres: -slope * 1000,
    errorDioptres: error * 1000,
    fraction: Math.abs(slope) / depth,
    fractionError: error / depth,
    focusMm: perMm.map((v) => (v > 0 ? 1 / v : Infinity)),
  };
}
