// Where a frame lies in a merge, and what follows from that: points, pixels, coverage, footprint.
export {
  applySimilarity,
  centreShift,
  composeSimilarity,
  IDENTITY,
  invertSimilarity,
  mapRegion,
  matrixSimilarity,
  rescaleSimilarity,
  rotationDegOf,
  scaleOf,
  similarityAffine,
  similarityMatrix,
  type Matrix3,
  type Similarity,
} from './transform';
export { applyMatrix, composeMatrix, invertMatrix, matrix3, rescaleMatrix } from './homography';
export { localShiftAt, type LocalField } from './localField';
export { canvasRay, rayOnCanvas, type Canvas, type Projection } from './canvas';
export { encodedLift, ENCODED_POWER, frameRay, vignetteLift, type LensShade, type LensView } from './lens';
export {
  SAME_PLACE,
  shadeOf,
  withVignetting,
  similarityGeometry,
  type FrameGeometry,
  type HomographyGeometry,
  type SimilarityGeometry,
  type TurnedGeometry,
} from './geometry';
export { frameToMerge, mergeToFrame } from './mapPoint';
export { touchingSimilarity } from './touchingSimilarity';
export { coveredCells, coveredShare, type FrameSize } from './coverage';
export { canTouch, footprintOf } from './footprint';
export { geometryOf, modelOf, type AlignmentRecord } from './alignmentRecord';
export { inAnotherMerge, inPerspective } from './inAnotherMerge';
export { shiftedGeometry } from './shifted';
export { type PixelSource } from './pixelSource';
export { greySource } from './greySource';
export { withoutContrast, type LocalContrast } from './localContrast';
export { warpFrame, warpFrameLuma, type AlignedFrame } from './warpFrame';
