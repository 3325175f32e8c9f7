// Measuring the product on scenes it has never seen: fresh commissions, and scores of what it says of them.
export { freshCommission, type Commission } from './commission';
export {
  polygonCells,
  scoreReport,
  type ReportScore,
  type ScoredFault,
  type ScoredFinding,
  type ScoredMerge,
} from './scoreReport';
export {
  addClean,
  addFaulty,
  addFinished,
  addRepair,
  emptyTally,
  evaluationRecord,
  evaluationTable,
  type Evaluation,
  type KindTally,
} from './tally';
export { calibrationFile, fitCalibration, type JudgedFinding } from './fitCalibration';
export {
  MENDED,
  scoreRepair,
  type AskedFault,
  type MomentShown,
  type RepairScore,
  type RgbPicture,
} from './scoreRepair';
export { alignmentErrors, leanOf, pairErrors } from './frameErrors';
export { canvasView, placesOf, referenceOf, shotIndex, trueCanvas, trulyAt, type ShotScene } from './trueGeometry';
export { haloWidths } from './haloWidths';
export { lineErrors } from './lineErrors';
export { signalToNoise, structuralSimilarity } from './structuralSimilarity';
export { type OwnMergeScore } from './ownMergeScore';
