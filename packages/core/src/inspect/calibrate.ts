// The picture's own yardsticks, from all regions' samples.
import { median, robustDeviation } from '../image';
import { nearSideOf, type NearSide } from '../defocus';
import type { CalibrationSamples } from './evidence';

export interface Calibration {
  readonly nearSide: NearSide;
  /** Share of votes for that side, 0.5..1. */
  readonly nearSideSure: number;
  /** Growth of σ² per squared focus step, px²; its root is the blur one step makes. NaN when no place shows both flanks. */
  readonly curvature: number;
  /** Typical log2 sharpness ratio where the merge shows the best frame: what resampling alone does. */
  readonly ratioCentre: number;
  /** Its robust spread. */
  readonly ratioSpread: number;
  /** Typical blur of the sharpest frame, σ² in px²: how sharp this lens, sensor and subject get. */
  readonly typicalVariance: number;
}

/** Joins the samples of all regions; the order does not matter. */
export function calibrate(samples: readonly CalibrationSamples[]): Calibration {
  const first = samples.reduce((s, c) => s + c.votes.first, 0);
  const last = samples.reduce((s, c) => s + c.votes.last, 0);
  const ratios = samples.flatMap((s) => s.ratios);
  const curvatures = samples.flatMap((s) => s.curvatures);
  const variances = samples.flatMap((s) => s.variances);
  return {
    nearSide: nearSideOf({ first, last }),
    nearSideSure: first + last > 0 ? Math.max(first, last) / (first + last) : 0.5,
    curvature: curvatures.length >= 50 ? median(curvatures) : NaN,
    ratioCentre: ratios.length >= 50 ? median(ratios) : 0,
    ratioSpread: ratios.length >= 50 ? robustDeviation(ratios) : 0.1,
    typicalVariance: variances.length >= 50 ? median(variances) : 0,
  };
}
