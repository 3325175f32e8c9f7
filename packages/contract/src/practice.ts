// Practice: merges with hidden defects to be found and named, and what the answers say of the learner.
import { z } from 'zod';
import { pointSchema } from './geometry';
import { defectSchema, kindSchema } from './report';

/** How faint the hidden defects are: none, a quarter, half, three quarters, all of them; or as the learner's finds say. */
export const practiceLevelSchema = z.union([z.literal('follow'), z.number().int().min(0).max(4)]);

export const exerciseOrderSchema = z.strictObject({
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

export const solutionSchema = z.strictObject({
  marks: z.array(learnersMarkSchema),
  tookS: z.number(),
  faults: z.array(solvedFaultSchema),
  /** Indices of marks on nothing. */
  invented: z.array(z.number().int()),
  cellPx: z.number().int(),
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

export const practiceSchema = z.strictObject({
  /** The newest first. */
  exercises: z.array(exerciseSchema),
  progress: z.array(practiceProgressSchema),
  /** Where defects were overlooked. */
  places: z.array(z.strictObject({ place: solvedFaultSchema.shape.place, shown: z.number(), found: z.number() })),
});

export type ExerciseOrder = z.infer<typeof exerciseOrderSchema>;
export type LearnersMarkRecord = z.infer<typeof learnersMarkSchema>;
export type Answer = z.infer<typeof answerSchema>;
export type SolvedFault = z.infer<typeof solvedFaultSchema>;
export type Solution = z.infer<typeof solutionSchema>;
export type Exercise = z.infer<typeof exerciseSchema>;
export type PracticeProgress = z.infer<typeof practiceProgressSchema>;
export type Practice = z.infer<typeof practiceSchema>;
