// Pictures without a place: planes, tone, smoothing, regions, noise.
export { growRegion, makePlane, type Encoding, type Plane, type Raster, type Region } from './raster';
export { sharedArea } from './sharedArea';
export { tileRegion } from './tileRegion';
export { boxSmooth, tentSmooth, weightedSmooth } from './smooth';
export { evaluateTone, gainTone, IDENTITY_TONE, joinTones, toneLut, toneOfGrey, type ToneCurve } from './tone';
export { linearToSrgb, srgbToLinear } from './colour';
export { dilate, findComponents, findIslands, outlineOf, type Component, type Mask } from './regions';
export { median, medianOfFirst, quantile, robustDeviation } from './statistics';
export { estimateNoise, leastNoise, noiseAt, tonedNoise, type NoiseCurve } from './estimateNoise';
export { sampleBilinear } from './sampleBilinear';
export { blurVarianceFromBands } from './blurVarianceFromBands';
export { paintArea, polygonArea, type AreaShape, type Place } from './area';
export { findMat } from './findMat';
export { largestRectangle } from './largestRectangle';
export { colourDifference, type Rgb } from './colourDifference';
export { fitGreyMix, LUMA_WEIGHTS, type ChannelWeights, type ColourPairs } from './grey';
export { boxMean, boxMeansAlong, summedArea, type SummedArea } from './summedArea';
