// Evidence, one detector per defect over it, and who explains whom.
export { calibrate, type Calibration } from './calibrate';
export { DEFECTS, JUST_VISIBLE, type Defect, type Detection, type Measurement } from './detection';
export {
  BOTH_SIDES,
  emptyEvidence,
  MAP_KEYS,
  placeEvidence,
  reduceEvidence,
  type CalibrationSamples,
  type EvidenceMaps,
} from './evidence';
export { findDefects } from './findDefects';
export { arbitrate, CLAIMS, type Claim } from './arbitrate';
export { type CauseFacts, type Detector, type Evidence, type MergeKind } from './detector';
export { DETECTORS, detectorOf } from './registry';
export { unresolvedBlur, VISIBLE_BLUR_PX, type UnresolvedBlur } from './defects/focusGap';
