// From a detection to frames, cause, donor, and whether it can be repaired.
export { traceDetection, type FrameMeasure, type TracedFinding } from './traceDetection';
export { rankDonors, tiedDonors, type FramesOfFinding } from './rankDonors';
export { probeCells, type ProbedPlace } from './probeCells';
