// Explanation: which frame, or which mixture of frames, a merge shows.
export { pixelLikeness, explainCells, NONE_OF_THEM, type Explanation, type Likeness } from './explainCells';
