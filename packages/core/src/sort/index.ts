// From a card's frames to sound sets.
export { summariseFrame, SMALL_PX, type FrameSummary } from './frameSummary';
export { makePyramid, relateFrames, type Pyramid, type Relation } from './relateFrames';
export { compareLight, type LightChange } from './compareLight';
export { exposureEv, type FrameSettings, type SortFrame } from './sortFrame';
export { arrange, groupFrames, shootingOrder, type ProposedSet, type Sorting } from './groupFrames';
export { checkSet } from './checkSet';
export { CHECKS, type CheckName, type FrameCheck } from './frameCheck';
export { labelFrames } from './labelFrames';
export { redundantExposures, redundantSlices, sliceOverlap, type RedundantFrame } from './redundantFrames';
export { overlapWithNext } from './overlapWithNext';
export { exposures, focusMoves } from './splitRun';
