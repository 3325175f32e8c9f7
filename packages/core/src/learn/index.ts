// What many jobs tell, and what a learner's answers tell: counts with intervals, lessons, calibrations, sensitivity.
export { countFaults, type FaultCell, type FaultGroup, type Grouping, type JobFacts } from './countFaults';
export { drawLessons, takeLesson, type DrawnLesson, type PlanChange } from './drawLessons';
export {
  breathingPerDioptre,
  gatherCalibrations,
  type CalibrationReading,
  type GatheredCalibration,
} from './readCalibrations';
export { dPrime, normalQuantile, type Sensitivity } from './dPrime';
export {
  markAnswers,
  placeOfFault,
  type FaultPlace,
  type HiddenFault,
  type LearnersMark,
  type MarkedAnswer,
  type MarkedFault,
} from './markAnswers';
export { LEVELS, staircase } from './staircase';
export { wilson, type ShareInterval } from './wilson';
