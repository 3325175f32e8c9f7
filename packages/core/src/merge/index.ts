// Merging: focus stacks by labels, panoramas by seams, brackets by exposure or as light.
export { proposeLabels, type LabelOptions, type LabelProposal, type ProposedSide } from './proposeLabels';
export { VALUES_PER_CELL, type CellTones, type ToneGrid } from './clearSpill';
export { regulariseLabels, type LabelGrid } from './regulariseLabels';
export { fuseBands } from './fuseBands';
export { fuseRegion, type FuseOptions } from './fuseRegion';
export { compareBlur, fitSoftness, type SoftnessTie } from './frameSoftness';
export { findSeams, NO_LABEL, type SeamLabels, type SeamOptions, type SeamView } from './findSeams';
export {
  cutLayout,
  fieldOfView,
  layOutPanorama,
  turnedViews,
  type FieldOfView,
  type LayoutName,
  type PanoramaFrames,
  type PanoramaLayout,
} from './layOutPanorama';
export { repositionFrames, type Repositioned } from './repositionFrames';
export { findMotion, type MotionFrame, type MotionMasks } from './findMotion';
export {
  baseSize,
  FINE_LEVELS,
  fuseBase,
  fuseExposures,
  reduceExposures,
  type BasePart,
  type ExposureBase,
  type ExposureFrame,
} from './fuseExposures';
export { mergeLight, toneForLight, type LightFrame, type LightTone } from './mergeLight';
export { measureBorders, type Borders } from './measureBorders';
export { blendShares, gradientShares, type Gradient } from './blendShares';
export { partShares, type FramePart } from './partShares';
export { featherFrames } from './featherFrames';
