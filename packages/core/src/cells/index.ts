// What each picture of a set shows in a region, per cell of 4 × 4 px.
export {
  gatherCells,
  heldRanges,
  type CellFrame,
  type CellPicture,
  type CellStack,
  type GatherOptions,
} from './gatherCells';
export { type Grain } from './grain';
export { grainOf, grainSamples, type GrainSample } from './measureGrain';
export { toneSquared } from './toneSquared';
export { relateCells, type LocalRelation, type RelatedFrame } from './relateCells';
export { cellLuma } from './cellLuma';
export { cellTent, type CellTent } from './cellTent';
export { closestFrame } from './closestFrame';
export { coarserCells } from './coarserCells';
export { broadLuma, oddMoments, type OddMoments } from './oddMoments';
export { sharpestFrames, SIGNIFICANT_OVER_NOISE } from './sharpestFrames';
export { finenessOf, finenessSamples, type FinenessSample } from './fineness';
export { FULL_SIZE, type WorkingPx } from './workingPx';
