// What each picture of a set shows, cell by cell, and which frame a merge took.
export { gatherCells, type CellFrame, type CellPicture, type CellStack } from './cellStack';
export { focusAxis, type FocusAxis } from './focusScale';
export {
  GLOW_RADIUS_CELLS,
  makeGlowFinder,
  nearSideOf,
  voteNearSide,
  type Glow,
  type GlowFinder,
  type NearSide,
  type NearSideVotes,
} from './glow';
export { sharpestFrames, SIGNIFICANT_OVER_NOISE } from './sharpest';
export { inferLabels, NONE_OF_THEM, type InferredLabels } from './inferLabels';
