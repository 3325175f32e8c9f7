// Repair with masks: operations, shapes of masks, rendering, and the masks to take away.
export {
  changesInPlace,
  checkMask,
  checkPart,
  isEvening,
  isInvented,
  isPulled,
  MOST_NUDGE_PX,
  operationRegion,
  operationsInTile,
  operationsReaching,
  partsOf,
  placeOperation,
  pullOperation,
  tileState,
  UNTOUCHED,
  type Operation,
  type OperationMask,
  type OperationPart,
  type PlacedOperation,
} from './operations';
export { MOST_CHANGE_PX, type MaskChange } from './changedMask';
export {
  drawnShape,
  layShape,
  shapeRegion,
  type FadeShape,
  type MaskShape,
  type OutlineShape,
  type PictureShape,
  type StrokeShape,
} from './shapes';
export { carryOperation, type Carried, type CarryMerge } from './carry';
export { tellsTone } from './tellsTone';
export { fitToneByLight } from './toneByLight';
export { fitToneWithin } from './toneWithin';
export { lostCells, type HeldPicture } from './lostCells';
export { spareCells } from './spareCells';
export { snapMask } from './snapMask';
export { packMaskPicture, type MaskPicture } from './maskPicture';
export { pullStraight, type Straightening } from './pullStraight';
export { mostPull, pullLength, reachFor, type Pull, type PullKnot } from './pull';
export { layOutline, outlineRegion, type Outline } from './outlines';
export {
  chooseFrames,
  outlineInMerge,
  partsOfMask,
  type ChosenFrames,
  type FrameChoice,
  type FramePart,
} from './chooseFrames';
export {
  calledHere,
  cellsNamed,
  cellsUnder,
  judgeRepair,
  type JudgedBy,
  type JudgedFinding,
  type JudgedRepair,
} from './judgeRepair';
export { liftedTone } from './liftedTone';
export { fillPieces } from './fillPieces';
export { findNudge } from './findNudge';
export { fitMask, rimOf, likenessOf, type Likeness, type MaskGrowth } from './fitMask';
export { findFill, type FillGround } from './findFill';
export {
  bestFitting,
  EVEN_MARGIN_PX,
  evenedShape,
  haloShape,
  fittedShape,
  LAYERED_CELLS,
  layeredShape,
  isOfDetailAlone,
  isOfToneAlone,
  maskGrowth,
  proposeRepair,
  repairSources,
  roughGrowth,
  speckMask,
  type DonorPart,
  type ProposedRepair,
  type RepairCase,
  type RepairSource,
} from './proposeRepair';
export { brushFall, layStroke, strokeRegion, type PenPoint, type Stroke } from './strokes';
export { fitEvening } from './evenTone';
export { TONE_MARGIN_PX, addToneField, fieldBox, fieldOver, fitToneField, type ToneField } from './toneField';
export { canGoOn, layOperations, renderMask, renderRepair, warpSource } from './renderRepair';
