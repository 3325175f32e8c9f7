// The pipeline's steps; server and command line call the same ones.
export { alignFrames, placeInMerge, type AlignedSet } from './alignFrames';
export { registerMerge } from './registerMerge';
export { mergeStack, STACK_DEFAULTS, type StackMethod, type StackOptions } from './mergeStack';
export { alignBracket, type AlignedBracket, type ExposedFrame } from './alignBracket';
export { alignPanorama, type AlignedPanorama, type FailedFrame } from './alignPanorama';
export { findKind } from './findKind';
export { BRACKET_DEFAULTS, mergeBracket, type BracketMethod, type BracketOptions } from './mergeBracket';
export {
  compareProjections,
  mergePanorama,
  PANORAMA_DEFAULTS,
  type PanoramaOptions,
  type ProjectionFigures,
} from './mergePanorama';
export { MERGE_DEFAULTS, mergeSet, type MergedSet, type MergeOptions } from './mergeSet';
export { inspectMerge, type InspectedFinding, type Inspection } from './inspectMerge';
export { finiteMeasurements, makeReport, mergeReport, reportFinding, reportFrame } from './makeReport';
export { modelOf, geometryOf } from './reportModel';
export { fieldBend } from './placeOf';
export { markSubject, sharpPartOf } from './markSubject';
export {
  ALIGNMENT_DEFAULTS,
  inParallel,
  type AlignmentOptions,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from './types';
