// What a focus stack is planned from.
import type { AcceptedBlur, CameraBody } from './circleOfConfusion';
import type { Pace } from './seriesTime';

export interface PlanLens {
  readonly focalLengthMm: number;
  readonly widestFNumber: number;
  readonly smallestFNumber: number;
  /** The aperture at which this lens is at its best. */
  readonly sharpestFNumber: number;
  /** Nearest distance it focuses without tubes. */
  readonly nearestFocusMm: number;
  /** Exit over entrance pupil; 1 where unknown. */
  readonly pupilMagnification: number;
}

export interface FocusRequest extends Pace {
  readonly camera: CameraBody;
  readonly lens: PlanLens;
  /** Focus ring or in-camera bracketing, or a rail that moves the camera. */
  readonly drive: 'focus' | 'rail';
  readonly nearestMm: number;
  /** Null for infinity. */
  readonly farthestMm: number | null;
  /** Rail only: depth of the subject, and magnification without tubes. */
  readonly depthMm: number;
  readonly magnification: number;
  readonly extensionMm: number;
  readonly fNumber: number;
  readonly accepted: AcceptedBlur;
  /** Share of a slice, 0 to less than 1. */
  readonly overlap: number;
  /** Slices beyond each end. */
  readonly spare: number;
  /** Focus distances set by hand instead of planned ones; null in it is infinity. */
  readonly focusMm: readonly (number | null)[] | null;
  readonly order: 'near-to-far' | 'far-to-near';
  readonly lightDriftEvPerMin: number;
  /** Speed of what moves across the view at the nearest point; 0 for still things. */
  readonly motionMmPerS: number;
  readonly motionLimitPx: number;
}
