// Evidence in layers, one detector per defect over them, and who explains whom.
export { canHave, DEFECTS, JUST_VISIBLE, type Defect, type Detection, type Measurement } from './detection';
export {
  calibrate,
  emptyEvidence,
  evidenceOf,
  hasSurveys,
  isRelated,
  joinSurveys,
  layersOf,
  measureRegion,
  missedLooking,
  narrowLooking,
  placeEvidence,
  startLooking,
  surveyFrame,
  wantedLooking,
  type EvidenceMaps,
  type Looking,
  type RegionEvidence,
  type Yardsticks,
} from './evidence';
export { detectorsFor, findDefects } from './findDefects';
export {
  detectionInFullPx,
  detectionInWorkingPx,
  mapInFullPx,
  regionInWorkingPx,
  scaledMeasurements,
  twoGrids,
  type TwoGrids,
} from './inFullPx';
export type { Calibration, KindCalibration } from './calibrationShape';
export { judgeFindings, type Judgeable, type Judgement } from './judge';
export { surenessOf, surest, weighed, type Evident } from './sureness';
export { drawLookMaps, LOOK_MAPS, type LookMapName, type LookMaps } from './lookMaps';
export { mergeDefects, regionDefects, regionEvidence } from './inspectRegion';
export { arbitrate, CLAIMS, hides, type Claim } from './arbitrate';
export { type CauseFacts, type Detector, type Evidence } from './detector';
export { DETECTORS, detectorOf } from './registry';
export {
  MERGE_KINDS,
  type Layer,
  type LayerMaps,
  type MergeKind,
  type RegionView,
  type SetFacts,
  type SizedGeometry,
  type SurveyedFrame,
} from './layers/layer';
export { explanation, type ExplanationMaps } from './layers/explanation';
export { sensorSpots } from './layers/sensorSpots';
export { nearEndIn } from './layers/spill';
export { unresolvedBlur, VISIBLE_BLUR_PX, type UnresolvedBlur } from './defects/focusGap';
