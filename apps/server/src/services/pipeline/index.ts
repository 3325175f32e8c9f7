// The pipeline's steps; server and command line call the same ones.
export { alignFrames, placeInMerge, type AlignedSet } from './alignFrames';
export { coverageOf, registerMerge } from './registerMerge';
export { mergeStack } from './mergeStack';
export { inspectMerge, type InspectedFinding, type Inspection } from './inspectMerge';
export { finiteMeasurements, makeReport, reportFinding, reportFrame } from './makeReport';
export { inParallel, type PlacedFrame, type SetPicture, type StepContext } from './types';
