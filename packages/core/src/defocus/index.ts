// What a lens does to depth: which frame is focused where, and the light that a defocused edge spills over what lies behind it.
export { focusAxis, type FocusAxis } from './focusAxis';
export { type Spill, type SpillFinder } from './findSpill';
export { makeSpillFinder } from './spillFinder';
export { EDGE_OVER_NOISE, nearEndSaid, nearSideOf, voteNearSide, type NearSide, type NearSideVotes } from './nearSide';
