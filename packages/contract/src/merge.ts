// A merge under inspection: frames in its geometry, findings, strokes.
import { z } from 'zod';
import { measurementSchema, pointSchema, regionSchema, similaritySchema, toneSchema } from './geometry';
import { defectSchema } from './report';

/** A frame placed in the merge. */
export const mergeFrameSchema = z.strictObject({
  pictureId: z.string(),
  fileName: z.string(),
  toMerge: similaritySchema,
  tone: toneSchema,
  scale: z.number(),
  shiftPx: pointSchema,
  rotationDeg: z.number(),
  residualPx: z.number(),
  correlation: z.number(),
  coverage: z.number(),
  share: z.number(),
  /** Position on the focus axis in typical frame steps. */
  focusPosition: z.number(),
});

export const frameMeasureSchema = z.strictObject({
  sharpness: z.number(),
  difference: z.number(),
  predictedError: z.number(),
  coverage: z.number(),
  shownShare: z.number(),
});

export const decisionSchema = z.enum(['open', 'repaired', 'accepted', 'reshoot', 'not-a-defect']);

export const findingSchema = z.strictObject({
  id: z.string(),
  mergeId: z.string(),
  defect: defectSchema,
  bbox: regionSchema,
  polygon: z.array(pointSchema),
  severity: z.number(),
  confidence: z.number(),
  cause: z.string(),
  advice: z.string(),
  measurements: z.record(z.string(), measurementSchema),
  frames: z.array(frameMeasureSchema),
  donor: z.number().int().nullable(),
  gain: z.number(),
  repairable: z.boolean(),
  decision: decisionSchema,
  reason: z.string(),
  /** What the last re-inspection after a stroke said; empty before the first. */
  recheck: z.string(),
});

export const strokeSchema = z.strictObject({
  frame: z.number().int().min(0),
  points: z.array(pointSchema).min(1).max(20000),
  sizePx: z.number().min(1).max(4000),
  hardness: z.number().min(0).max(1),
  strength: z.number().gt(0).max(1),
});

export const savedStrokeSchema = strokeSchema.extend({ id: z.string(), undone: z.boolean() });

/** A client names its stroke, so that sending it again after a lost answer changes nothing. */
export const newStrokeSchema = z.strictObject({ id: z.string().min(8).max(64), stroke: strokeSchema });

export const decisionChangeSchema = z.strictObject({
  decision: decisionSchema,
  reason: z.string().max(400).default(''),
});

export const mergeSchema = z.strictObject({
  id: z.string(),
  jobId: z.string(),
  jobName: z.string(),
  origin: z.enum(['own', 'imported']),
  fileName: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  bits: z.union([z.literal(8), z.literal(16)]),
  reference: z.number().int(),
  focusAxis: z.enum(['breathing', 'equal-steps']),
  frames: z.array(mergeFrameSchema),
  findings: z.array(findingSchema),
  strokes: z.array(savedStrokeSchema),
  /** Changes with every stroke, undo and redo: names the version of the repaired picture's tiles. */
  revision: z.number().int(),
});

/** The frames at one place: what the trace strip shows under the pointer. */
export const probeSchema = z.strictObject({
  x: z.number(),
  y: z.number(),
  frames: z.array(frameMeasureSchema),
  shown: z.number().int().nullable(),
});

export type MergeFrame = z.infer<typeof mergeFrameSchema>;
export type FrameMeasure = z.infer<typeof frameMeasureSchema>;
export type Decision = z.infer<typeof decisionSchema>;
export type Finding = z.infer<typeof findingSchema>;
export type StrokeRecord = z.infer<typeof strokeSchema>;
export type SavedStroke = z.infer<typeof savedStrokeSchema>;
export type Merge = z.infer<typeof mergeSchema>;
export type Probe = z.infer<typeof probeSchema>;
