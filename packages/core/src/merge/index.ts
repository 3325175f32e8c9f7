// Merging a focus stack: labels, then a multi-band blend.
export { proposeLabels, type LabelProposal } from './proposeLabels';
export { regulariseLabels, type LabelGrid } from './regulariseLabels';
export { fuseRegion } from './fuseRegion';
