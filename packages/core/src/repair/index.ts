// Repair with masks: operations, shapes of masks, rendering, and the masks to take away.
export {
  isEvening,
  isInvented,
  MOST_NUDGE_PX,
  operationRegion,
  operationsInTile,
  operationsReaching,
  partsOf,
  placeOperation,
  tileState,
  UNTOUCHED,
  type Operation,
  type OperationPart,
  type PlacedOperation,
} from './operations';
export { layShape, shapeRegion, type MaskShape, type OutlineShape, type StrokeShape } from './shapes';
export { layOutline, outlineRegion, type Outline } from './outlines';
export { chooseFrames, outlineInMerge, partsOfMask, type FrameChoice, type FramePart } from './chooseFrames';
export { fillPieces } from './fillPieces';
export { findNudge } from './findNudge';
export { fitMask, likenessOf, type Likeness, type MaskGrowth } from './fitMask';
export { findFill, type FillGround } from './findFill';
export {
  fittedShape,
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
export { addToneField, fieldBox, fitToneField, type ToneField } from './toneField';
export { layOperations, renderMask, renderRepair, warpSource } from './renderRepair';
