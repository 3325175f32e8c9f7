// From a detection to frames, cause, donor, and whether it can be repaired.
export { traceDetection, type FrameMeasure, type TracedFinding } from './traceDetection';
export { probeCells, type ProbedPlace } from './probeCells';
