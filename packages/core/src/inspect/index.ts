// One detector per defect over shared evidence maps.
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
export { unresolvedBlur, VISIBLE_BLUR_PX, type UnresolvedBlur } from './detectFocusGaps';
