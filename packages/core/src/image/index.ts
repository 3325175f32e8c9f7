// Pictures, transforms between them, tone, smoothing and regions.
export { growRegion, makePlane, type Encoding, type Plane, type Raster, type Region } from './raster';
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
export { tileRegion } from './tileRegion';
export { boxSmooth, tentSmooth, weightedSmooth } from './smooth';
export { evaluateTone, gainTone, IDENTITY_TONE, toneLut, type ToneCurve } from './tone';
export { linearToSrgb, srgbToLinear } from './colour';
export { dilate, findComponents, outlineOf, type Component, type Mask } from './regions';
export { median, quantile, robustDeviation } from './statistics';
export { estimateNoise, leastNoise, noiseAt, type NoiseCurve } from './estimateNoise';
export { sampleBilinear } from './sampleBilinear';
export { blurVarianceFromBands } from './blurVarianceFromBands';
export { applyMatrix, composeMatrix, invertMatrix, matrix3, rescaleMatrix } from './homography';
export { paintArea, type AreaShape, type Place } from './area';
export { localShiftAt, type LocalField } from './localField';
export {
  canvasRay,
  frameRay,
  frameToMerge,
  mergeToFrame,
  rayOnCanvas,
  touchingSimilarity,
  vignetteLift,
  type Canvas,
  type FrameView,
  type LensShade,
  type LensView,
  type PlaneView,
  type Projection,
  type TurnedView,
} from './frameView';
export { largestRectangle } from './largestRectangle';
