// The simulated camera and its world: optics, scenes, sensor, series, merges made elsewhere, ground truth.
export { blurDiameterPx, CORRECTED, imageDistanceMm, vignetteAt, type Lens, type ThinLens } from './optics/lens';
export { pupilPosition, rotationOf, type Mat3, type Vec3 } from './optics/pose';
export { castRow, homographyBetween, makeRayRow, projectPoint, projectRay, projectRow, type View } from './optics/view';
export { renderLight } from './render/renderLight';
export type { Exposure, Light, Stage } from './render/stage';
export { lightOf, takeFrame, type Shot } from './render/takeFrame';
export { encodeLight, record } from './render/sensor';
export { discBlur } from './render/discBlur';
export {
  checkAssignment,
  defaultSettings,
  frameSize,
  KIND_OF,
  SettingError,
  SUBJECTS,
  type Assignment,
  type SetKind,
  type ShootSettings,
  type Subject,
} from './shoot/assignment';
export { planSet, skyShare, type FrameSource, type PlannedShot, type SetPlan } from './shoot/planSet';
export { CELL, cellGrid, type CellGrid } from './defects/cells';
export { idealMerge } from './defects/idealMerge';
export { placeFrame, shotOf, toneTable, type FrameBlock, type ReadFrame } from './defects/placeFrame';
export { joinFacts, surveyOf, surveyRegion, withFrames, type CellFacts, type Survey } from './defects/survey';
export { cellDifference, composeRegion } from './defects/composeMerge';
export {
  EVERY_FAULT,
  momentRecipe,
  seedRecipes,
  settleTruth,
  type FaultPlan,
  type MergeTruth,
  type SeededRecipes,
} from './defects/seedMerge';
export { plainRecipe, type Recipe } from './defects/recipe';
export { MIN_CELLS, VISIBLE_RMS, visibleRms, type Defect, type Fault, type Moment } from './defects/fault';
export { withHand } from './world/separator';
export { makeRandom, type Random } from './world/random';
export { bestFrames } from './defects/draft';
export { FINISHINGS, type Finishing } from './finish/finishings';
