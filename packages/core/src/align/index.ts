// Registration of frames and merges: geometry first, then tone.
export { alignLevel, alignLevels, onSubject, type AlignLevel } from './levels';
export { estimateSimilarity, type EstimateSimilarityOptions, type SimilarityEstimate } from './estimateSimilarity';
export { refineByBlocks, type BlockShift, type Refinement } from './refineByBlocks';
export { registerPair, type PairRegistration } from './registerPair';
export { solvePoses, type PoseEdge } from './solvePoses';
export { searchPlacement, type Placement } from './searchPlacement';
export { fitLightGain } from './fitLightGain';
export { fitLocalContrast } from './fitLocalContrast';
export { fitMixedTone, type MixedTone } from './fitMixedTone';
export { fitCommonTone, type ColourSamples } from './fitCommonTone';
export { fitMergeShade, type ShadePairs } from './fitMergeShade';
export { evenPairs, fitTone, type TonePairs } from './fitTone';
export { adjustBundle, type AdjustedRig, type AdjustOptions, type CameraRig } from './adjustBundle';
export { type Tie } from './reprojectionError';
export { findPoints, type FindPointsOptions, type KeyPoint } from './findPoints';
export { findLines, type FrameLine } from './findLines';
export { findUpright, type Upright, type UprightFrame } from './findUpright';
export { fitGains, type FrameLight, type LightPair } from './fitGains';
export { matchPoints, type PointMatch } from './matchPoints';
export { measureTies, type FrameMap, type MeasuredTie } from './measureTies';
export { estimateRelativeRotation, type FrameCamera, type RelativeRotation } from './estimateRelativeRotation';
export {
  cross,
  dot,
  NO_TURN,
  rotationBetween,
  rotationBy,
  transposed,
  turn,
  turned,
  unit,
  type Vector3,
} from './rotations';
export { estimateExposures } from './estimateExposures';
export { fitPlane, tiesOfBlocks, type PlaneFit, type PlaneModel, type PlaneTie } from './fitPlane';
export { solvePlanes, type SolvedPlanes, type TiedPair } from './solvePlanes';
export { chooseModel, type ChosenPlanes } from './chooseModel';
export { solveLocalFields } from './solveLocalFields';
export { findSharpPart } from './findSharpPart';
export { fitSmoothShift, shiftAt, type FittedShift, type ShiftTie, type SmoothShift } from './smoothShift';
export { estimateHomography, type EstimatedHomography } from './estimateHomography';
export { fitCanvas, type CanvasTie, type FittedCanvas } from './fitCanvas';
export { tellingChannel, type TellingChannel } from './tellingChannel';
