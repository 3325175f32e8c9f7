// Scenes on disk to measure the product on, and its own merges held against ideal pictures.
export { makeScene, type EvaluationScene } from './evaluateScene';
export { finishMerge } from './finishMerge';
export { readRgb } from './idealPictures';
export { scoreOwnMerge } from './ownMerge';
export { MENDED, scoreRepairFiles, type FileFault } from './scoreFiles';
