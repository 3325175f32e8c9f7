// Measuring the product on scenes it has never seen.
export { alignmentErrors, makeScene, type EvaluationScene } from './evaluateScene';
export { pairErrors, scoreOwnMerge, type OwnMergeScore } from './ownMerge';
export { scoreReport, type ReportScore, type ScoredMerge } from './scoreReport';
export { addFaulty, emptyTally, evaluationRecord, evaluationTable, type KindTally } from './tally';
