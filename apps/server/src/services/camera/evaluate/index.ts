// Measuring the product on scenes it has never seen.
export { alignmentErrors, makeScene, ownMergeSimilarity, type EvaluationScene } from './evaluateScene';
export { scoreReport, type ReportScore, type ScoredMerge } from './scoreReport';
export { addFaulty, emptyTally, evaluationRecord, evaluationTable, type KindTally } from './tally';
