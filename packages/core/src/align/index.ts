// Registration of frames and merges: geometry first, then tone.
export { alignLevels, type AlignLevel } from './levels';
export { estimateSimilarity, type EstimateSimilarityOptions, type SimilarityEstimate } from './estimateSimilarity';
export { refineByBlocks, type BlockShift, type Refinement } from './refineByBlocks';
export { registerPair, type PairRegistration } from './registerPair';
export { solvePoses, type PoseEdge } from './solvePoses';
export { searchPlacement, type Placement } from './searchPlacement';
export { fitTone, type TonePairs } from './fitTone';
export { warpFrame, warpFrameLuma, type AlignedFrame, type PixelSource } from './alignedFrame';
