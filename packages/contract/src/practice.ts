// Practice: merges with hidden defects to be found and named, and what the answers say of the learner.
import { z } from 'zod';
import { pointSchema } from './geometry';
import { defectSchema, kindSchema } from './report';

/** How faint the hidden defects are: none, a quarter, half, three quarters, all of them; or as the learner's finds say. */
export const practiceLevelSchema = z.union([z.literal('follow'), z.number().int().min(0).max(4)]);

export const exerciseOrderSchema = z.strictObject({
  /** To find and name what is hidden, or to tell which of two pictures of a place has it. */
  task: z.enum(['find', 'which']).default('find'),
  kind: kindSchema,
  /** Empty: all that the kind can have. */
  defects: z.array(defectSchema).max(11).default([]),
  level: practiceLevelSchema.default('follow'),
  /** Null for none. */
  timeLimitS: z.number().int().min(20).max(3600).nullable().default(null),
});

export const learnersMarkSchema = z.strictObject({
  polygon: z.array(pointSchema).min(3).max(2000),
  defect: defectSchema,
  donor: z.string().nullable(),
});

export const answerSchema = z.strictObject({
  marks: z.array(learnersMarkSchema).max(200),
  tookS: z.number().min(0).max(1e6),
});

/** A hidden defect with what became of it. */
export const solvedFaultSchema = z.strictObject({
  defect: defectSchema,
  /** Rows of cells, px: x, y, width, all of one cell's height. */
  rows: z.array(z.tuple([z.number(), z.number(), z.number()])),
  isPlain: z.boolean(),
  place: z.enum(['at the rim', 'near the middle', 'between']),
  donors: z.array(z.string()),
  /** Index of the mark that found it. */
  mark: z.number().int().nullable(),
  isNamed: z.boolean(),
  isDonorRight: z.boolean().nullable(),
  /** Whether the inspection found it, and under which name. */
  inspection: defectSchema.nullable(),
});

/** One place in two pictures, and which of them was taken to have the defect. */
export const solvedPairSchema = z.strictObject({
  defect: defectSchema,
  isPlain: z.boolean(),
  /** Side that has the defect: 0 is the left one. */
  side: z.union([z.literal(0), z.literal(1)]),
  isRight: z.boolean(),
});

/** What a learner's own repair did, against the merge as it should be. */
export const scoredRepairSchema = z.strictObject({
  at: z.string(),
  /** By fault that can be repaired: share of its error that is gone; below 0 it grew. */
  faults: z.array(z.strictObject({ defect: defectSchema, fall: z.number(), isMended: z.boolean() })),
  /** Mean ΔE00 by which the rest was changed. */
  damage: z.number(),
});

export const solutionSchema = z.strictObject({
  marks: z.array(learnersMarkSchema),
  tookS: z.number(),
  faults: z.array(solvedFaultSchema),
  /** Indices of marks on nothing. */
  invented: z.array(z.number().int()),
  cellPx: z.number().int(),
  /** Of exercises that ask which of two. */
  pairs: z.array(solvedPairSchema).default([]),
  repair: scoredRepairSchema.nullable().default(null),
});

/** Pictures to choose among: pairs in order, each with its size in px. */
export const pairsSchema = z.array(z.strictObject({ width: z.number().int(), height: z.number().int() }));

export const pairAnswerSchema = z.strictObject({
  /** By pair, the side that has the defect. */
  choices: z.array(z.union([z.literal(0), z.literal(1)])).max(200),
  tookS: z.number().min(0).max(1e6),
});

export const exerciseSchema = z.strictObject({
  id: z.string(),
  order: exerciseOrderSchema,
  state: z.enum(['making', 'ready', 'answered', 'failed']),
  progress: z.number(),
  message: z.string(),
  mergeId: z.string().nullable(),
  createdAt: z.string(),
  solution: solutionSchema.nullable(),
});

/** How a learner does with one defect. */
export const practiceProgressSchema = z.strictObject({
  defect: defectSchema,
  shown: z.number().int(),
  found: z.number().int(),
  named: z.number().int(),
  invented: z.number().int(),
  /** Sensitivity d′ with bounds of 95 %. */
  dPrime: z.number(),
  low: z.number(),
  high: z.number(),
  /** Step of difficulty, 0 to 4. */
  level: z.number().int(),
  /** d′ after each exercise in which it was hidden, the oldest first. */
  course: z.array(z.strictObject({ at: z.string(), dPrime: z.number() })),
});

/** How often the flawed one of two was told, by defect; guessing is right half of the time. */
export const pairProgressSchema = z.strictObject({
  defect: defectSchema,
  shown: z.number().int(),
  right: z.number().int(),
  /** Of all such pairs (Wilson, 95 %). */
  low: z.number(),
  high: z.number(),
});

export const practiceSchema = z.strictObject({
  /** The newest first. */
  exercises: z.array(exerciseSchema),
  progress: z.array(practiceProgressSchema),
  pairs: z.array(pairProgressSchema),
  /** Where defects were overlooked. */
  places: z.array(z.strictObject({ place: solvedFaultSchema.shape.place, shown: z.number(), found: z.number() })),
});

export type ExerciseOrder = z.infer<typeof exerciseOrderSchema>;
export type LearnersMarkRecord = z.infer<typeof learnersMarkSchema>;
export type Answer = z.infer<typeof answerSchema>;
export type PairAnswer = z.infer<typeof pairAnswerSchema>;
export type SolvedPair = z.infer<typeof solvedPairSchema>;
export type PairProgress = z.infer<typeof pairProgressSchema>;
export type ScoredRepair = z.infer<typeof scoredRepairSchema>;
export type SolvedFault = z.infer<typeof solvedFaultSchema>;
export type Solution = z.infer<typeof solutionSchema>;
export type Exercise = z.infer<typeof exerciseSchema>;
export type PracticeProgress = z.infer<typeof practiceProgressSchema>;
export type Practice = z.infer<typeof practiceSchema>;
