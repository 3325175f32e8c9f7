// The simulated camera and its world: scenes, optics, sensor, ground truth, seeded faults.
export { lampScene, type Scene } from './lampScene';
export { blurDiameterPx, DEFAULT_CAMERA, imageDistanceMm, planShots, type CameraSettings, type Shot } from './camera';
export {
  blurRadiusPx,
  cellDepths,
  gatherTruth,
  openStudio,
  shootFrame,
  type RenderedFrame,
  type StackTruth,
  type Studio,
} from './renderStack';
export { composeMerges, type LabelMap, type SourceFrame } from './composeMerge';
export {
  bestFrames,
  composeFaultyMerge,
  PLAIN_FAULTS,
  VISIBLE_RMS,
  type FaultPlan,
  type FaultyMerge,
  type StudioFacts,
  type SeededDefect,
  type SeededFault,
} from './seedFaults';
export { discBlur } from './discBlur';
export { CELL, cellGrid, type CellGrid } from './cells';
export { makeRandom, type Random } from './random';
