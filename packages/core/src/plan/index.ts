// Optics and field arithmetic: from the picture wanted to the frames to shoot.
export { F_NUMBERS, nearestFNumber, recommendFNumber } from './apertures';
export {
  airyDiscMm,
  closeUpBlurMm,
  defocusBlurMm,
  longestExposureS,
  motionBlurPx,
  totalBlurMm,
  type Motion,
} from './blur';
export { calibrateFromDistances, calibrateStep, type StepCalibration } from './calibrateStep';
export { circleOfConfusionMm, pixelPitchMm, type AcceptedBlur, type CameraBody } from './circleOfConfusion';
export {
  closeUpDepthMm,
  hyperfocalMm,
  nearLimitAtInfinityMm,
  sliceAt,
  sliceFromFar,
  sliceFromNear,
  type Slice,
  type SliceOptics,
} from './depthOfField';
export { fieldOfViewDeg, framesAlong } from './fieldOfView';
export type { FocusRequest, PlanLens } from './focusRequest';
export {
  canvasOf,
  directionOf,
  FLAT_LIMIT_DEG,
  frameOutline,
  projectDirection,
  PROJECTIONS,
  type HeadPosition,
  type Projection,
} from './panoramaCanvas';
export type { PanoramaRequest } from './panoramaRequest';
export { judgeParallax, parallaxPx, type ParallaxVerdict } from './parallax';
export {
  bracketFrames,
  planBracket,
  type BracketAnswer,
  type BracketExposure,
  type BracketPlan,
  type BracketRequest,
} from './planBracket';
export { findGaps, MOST_FRAMES, overlapOf, planFocusSeries, type DepthGap, type DepthRange } from './planFocusSeries';
export {
  blurAtPx,
  magnificationOf,
  planFocusStack,
  type FocusAnswer,
  type FocusSchool,
  type FocusStackPlan,
} from './planFocusStack';
export type { SingleFrame } from './judgeSingleFrame';
export { CAUTIONS, LOCAL_RULES, type CautionId } from './cautions';
export { makeCaptureCard, type CaptureCard, type PlanSheet } from './makeCaptureCard';
export { comparePlan, type Comparison, type SetFacts } from './comparePlan';
export { chooseStep, type StepChoice, type StepScale } from './stepScale';
export { planPanorama, type CanvasPlan, type PanoramaAnswer, type PanoramaPlan } from './planPanorama';
export { planRailSeries, railSlices, type RailSeries } from './planRailSeries';
export { hasErrors, type FieldProblem } from './problem';
export { LIGHT_DRIFT_LIMIT_EV, lightDriftEv, seriesBytes, seriesTimeS, type Pace } from './seriesTime';
export {
  breathing,
  effectiveFNumber,
  extendedMagnification,
  imageDistanceMm,
  magnificationAt,
  measuredBreathing,
} from './thinLens';
export * from './quantities';
