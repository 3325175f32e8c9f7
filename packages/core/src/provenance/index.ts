// What each picture of a set shows, cell by cell, and which frame a merge took.
export { gatherCells, type CellFrame, type CellPicture, type CellStack } from './cellStack';
export { cellTent, type CellTent } from './cellTent';
export { focusAxis, type FocusAxis } from './focusScale';
export { type Glow, type GlowFinder } from './glow';
export { makeGlowFinder } from './glowScales';
export { EDGE_OVER_NOISE, nearSideOf, voteNearSide, type NearSide, type NearSideVotes } from './nearSide';
export { sharpestFrames, SIGNIFICANT_OVER_NOISE } from './sharpest';
export { closestFrame, inferLabels, NONE_OF_THEM, type InferredLabels } from './inferLabels';
