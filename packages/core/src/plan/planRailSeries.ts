// A series on a focusing rail: camera and lens move, the magnification stays.
import { badParameter } from '../checks';
import type { Slice } from './depthOfField';

export interface RailSeries {
  readonly stepMm: number;
  readonly travelMm: number;
  readonly frames: number;
}

/**
 * step = depth of field · (1 − overlap); frames = ⌈depth/step⌉ + 1; travel = step · (frames − 1).
 * @param depthMm of the subject, more than 0
 * @param depthOfFieldMm of one frame, more than 0
 * @param overlap share, 0 to less than 1
 * @throws ParameterError for a depth, depth of field or overlap out of range
 */
export function planRailSeries(depthMm: number, depthOfFieldMm: number, overlap: number): RailSeries {
  if (!(overlap >= 0 && overlap < 1)) throw badParameter('planRailSeries.overlap', '0 to less than 1', overlap);
  if (!(depthMm > 0)) throw badParameter('planRailSeries.depthMm', 'more than 0 mm', depthMm);
  if (!(depthOfFieldMm > 0)) throw badParameter('planRailSeries.depthOfFieldMm', 'more than 0 mm', depthOfFieldMm);
  const stepMm = depthOfFieldMm * (1 - overlap);
  // A depth that is a whole number of steps must not cost one more by rounding.
  const frames = Math.ceil(depthMm / stepMm - 1e-9) + 1;
  return { stepMm, travelMm: stepMm * (frames - 1), frames };
}

/** Slices of a rail series along the subject's depth; 0 is its nearest point. */
export function railSlices({ stepMm, frames }: RailSeries, depthOfFieldMm: number, spare = 0): Slice[] {
  return Array.from({ length: frames + 2 * spare }, (_, k) => {
    const focusMm = (k - spare) * stepMm;
    return { focusMm, nearMm: focusMm - depthOfFieldMm / 2, farMm: focusMm + depthOfFieldMm / 2 };
  });
}
