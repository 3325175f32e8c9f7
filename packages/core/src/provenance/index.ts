// Explanation: which frame, or which mixture of frames, a merge shows.
export { inferLabels, NONE_OF_THEM, type InferredLabels } from './inferLabels';
