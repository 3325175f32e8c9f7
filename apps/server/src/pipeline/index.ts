// The pipeline's steps; server and command line call the same ones.
export { annotationsOf, type AnnotationPage } from './annotations';
export { alignFrames, type AlignedSet } from './alignFrames';
export { registerPanorama, registerPlane, type RegisteredMerge } from './registerMerge';
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
export {
  alignSet,
  MERGE_DEFAULTS,
  mergeAligned,
  mergeSet,
  processSet,
  type Aligned,
  type ContextOf,
  type MergedSet,
  type MergeOptions,
  type ProcessedSet,
  type SetOrder,
  type ShownFrames,
} from './processSet';
export { mergeInPlace, type PlaceOrder, type PlacedMerge } from './mergeInPlace';
export { inspectMerge, type FirstSeen, type Inspection, type OnFirst } from './inspectMerge';
export type { InspectedFinding } from './lookThrough';
export { finiteMeasurements, makeReport, reportFinding, reportFrame, reportOf } from './makeReport';
export { fieldBend } from './placeOf';
export { closes, isGone, repairMerge, type LookAgain, type ToRepair, type TriedRepair } from './repairMerge';
export { renderFlat } from './renderFlat';
export { markSubject, sharpPartOf } from './markSubject';
export {
  ALIGNMENT_DEFAULTS,
  inParallel,
  knownResidual,
  type AlignmentOptions,
  type PlacedFrame,
  type SetPicture,
  type StepContext,
} from './types';
