// Repair with masks: operations, shapes of masks, rendering, and the masks to take away.
export {
  operationsInTile,
  operationsReaching,
  placeOperation,
  tileState,
  UNTOUCHED,
  type Operation,
  type PlacedOperation,
} from './operations';
export { layShape, shapeRegion, type MaskShape, type OutlineShape, type StrokeShape } from './shapes';
export { layOutline, outlineRegion, type Outline } from './outlines';
export { fillPieces } from './fillPieces';
export { fitMask, likenessOf, type Likeness, type MaskGrowth } from './fitMask';
export { findFill, type FillGround } from './findFill';
export { maskGrowth, proposeRepair, type ProposedRepair, type RepairCase } from './proposeRepair';
export { brushFall, layStroke, strokeRegion, type PenPoint, type Stroke } from './strokes';
export { addToneField, fieldBox, fitToneField, type ToneField } from './toneField';
export { layOperations, renderMask, renderRepair, warpSource } from './renderRepair';
