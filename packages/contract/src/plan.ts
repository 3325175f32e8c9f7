// Plans as they are saved and sent: what was asked for; every answer is computed from it anew.
import { z } from 'zod';
import { exifSchema } from './job';
import { calibratedSchema } from './journal';
import { subjectSchema } from './shoot';

const text = (most: number) => z.string().max(most);

export const cameraBodySchema = z.strictObject({
  name: text(120),
  sensorWidthMm: z.number(),
  sensorHeightMm: z.number(),
  pixelsWide: z.number(),
  pixelsHigh: z.number(),
});

export const planLensSchema = z.strictObject({
  name: text(120),
  focalLengthMm: z.number(),
  widestFNumber: z.number(),
  smallestFNumber: z.number(),
  sharpestFNumber: z.number(),
  nearestFocusMm: z.number(),
  pupilMagnification: z.number(),
});

/** One row of a camera's own scale of focus steps. */
export const stepScaleSchema = z.strictObject({
  setting: text(40).min(1, 'setting: a name is needed'),
  fraction: z.number().positive('fraction of a slice: more than 0 is accepted').max(100),
  /** Standard error of a measured fraction; null for one that was typed. */
  error: z.number().nullable(),
});

const pace = {
  exposureS: z.number(),
  settleS: z.number(),
  delayS: z.number(),
  bufferS: z.number(),
  lightDriftEvPerMin: z.number(),
};

export const focusRequestSchema = z.strictObject({
  ...pace,
  camera: cameraBodySchema,
  lens: planLensSchema,
  drive: z.enum(['focus', 'rail']),
  nearestMm: z.number(),
  farthestMm: z.number().nullable(),
  depthMm: z.number(),
  magnification: z.number(),
  extensionMm: z.number(),
  fNumber: z.number(),
  accepted: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('pixels'), pixels: z.number() }),
    z.strictObject({ by: z.literal('diagonal') }),
    z.strictObject({ by: z.literal('print'), printWidthMm: z.number(), viewingDistanceMm: z.number() }),
  ]),
  overlap: z.number(),
  spare: z.number(),
  focusMm: z.array(z.number().nullable()).max(999).nullable(),
  order: z.enum(['near-to-far', 'far-to-near']),
  motionMmPerS: z.number(),
  motionLimitPx: z.number(),
});

export const panoramaRequestSchema = z.strictObject({
  ...pace,
  camera: cameraBodySchema,
  focalLengthMm: z.number(),
  orientation: z.enum(['landscape', 'portrait']),
  from: z.enum(['lens', 'print']),
  horizontalDeg: z.number(),
  verticalDeg: z.number(),
  overlap: z.number(),
  edgeMargin: z.number(),
  projection: z.enum(['flat', 'cylindrical', 'spherical', 'repositioned']),
  ppi: z.number(),
  printWidthMm: z.number(),
  nearestMm: z.number(),
  farthestMm: z.number().nullable(),
  pupilOffsetMm: z.number(),
  exposuresEach: z.number(),
});

export const bracketRequestSchema = z.strictObject({
  ...pace,
  sceneEv: z.number(),
  usableEv: z.number(),
  stepEv: z.number(),
  fNumber: z.number(),
  iso: z.number(),
  frames: z.number().nullable(),
  extras: z.array(z.strictObject({ what: text(60), exposureS: z.number() })).max(10),
  directions: z.number(),
});

export const cautionSchema = z.enum([
  'ice',
  'edges',
  'water',
  'tides',
  'traffic',
  'sun',
  'flash',
  'animals',
  'protected',
  'heat',
]);

const common = { notes: text(2000), cautions: z.array(cautionSchema) };

export const planSheetSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    ...common,
    kind: z.literal('focus-stack'),
    request: focusRequestSchema,
    stepScale: z.array(stepScaleSchema).max(50),
  }),
  z.strictObject({ ...common, kind: z.literal('panorama'), request: panoramaRequestSchema }),
  z.strictObject({ ...common, kind: z.literal('bracket'), request: bracketRequestSchema }),
]);

export const planWriteSchema = z.strictObject({
  name: z.string().trim().min(1, 'a name is needed').max(120),
  sheet: planSheetSchema,
});

export const planSchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  sheet: planSheetSchema,
  createdAt: z.string(),
  changedAt: z.string(),
});

/** What jobs told of a body or lens, as it was taken over. */
export const measuredFactSchema = z.strictObject({
  camera: text(200),
  lens: text(200),
  what: calibratedSchema,
  words: text(200),
  value: z.number(),
  unit: text(40),
  /** Null where one job told it. */
  spread: z.number().nullable(),
  jobs: z.number().int(),
  takenAt: z.string(),
});

/** The user's own cameras, each with what its focus steps were found to do, and lenses. */
export const kitSchema = z.strictObject({
  bodies: z
    .array(cameraBodySchema.extend({ stepScale: z.array(stepScaleSchema).max(50) }).strict())
    .min(1, 'at least one camera is needed')
    .max(100),
  lenses: z.array(planLensSchema).min(1, 'at least one lens is needed').max(200),
  measured: z.array(measuredFactSchema).max(2000),
});

/** A plan sent to the simulated camera. */
export const shootPlanSchema = z.strictObject({
  subject: subjectSchema,
  longSidePx: z.number().int(),
  seed: z.number().int(),
});

export const jobPlanSchema = z.strictObject({
  plan: z.strictObject({ planId: z.string(), name: z.string(), sheet: planSheetSchema }).nullable(),
  comparison: z.array(
    z.strictObject({
      what: z.string(),
      unit: z.string(),
      planned: z.number(),
      actual: z.number().nullable(),
      verdict: z.enum(['as planned', 'better', 'worse', 'unknown']),
    }),
  ),
});
export const attachPlanSchema = z.strictObject({ planId: z.string().nullable() });

/** What a test frame tells: its settings, and how its light is spread. */
export const testFrameSchema = z.strictObject({
  fileName: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  exif: exifSchema.nullable(),
  /** From the settings in the file; null where they do not tell. */
  sensorWidthMm: z.number().nullable(),
  light: z.strictObject({
    /** From the deepest tone above noise to the brightest below clipping in this frame, EV. */
    rangeEv: z.number(),
    /** The same against the light itself: log2 of light per exposure; comparable between frames of one scene. */
    darkestEv: z.number().nullable(),
    brightestEv: z.number().nullable(),
    highlightClippedShare: z.number(),
    shadowClippedShare: z.number(),
  }),
});

/** What a sequence of a job says about a camera's focus step. */
export const measuredStepSchema = z.strictObject({
  source: z.enum(['distances in the files', 'change of scale']),
  frames: z.number().int(),
  stepDioptres: z.number(),
  /** Null where two frames leave it unknown. */
  errorDioptres: z.number().nullable(),
  fraction: z.number(),
  fractionError: z.number().nullable(),
});

export type PlanSheetRecord = z.infer<typeof planSheetSchema>;
export type PlanWrite = z.infer<typeof planWriteSchema>;
export type Plan = z.infer<typeof planSchema>;
export type Kit = z.infer<typeof kitSchema>;
export type MeasuredFact = z.infer<typeof measuredFactSchema>;
export type ShootPlan = z.infer<typeof shootPlanSchema>;
export type JobPlan = z.infer<typeof jobPlanSchema>;
export type TestFrame = z.infer<typeof testFrameSchema>;
export type MeasuredStep = z.infer<typeof measuredStepSchema>;
export type StepScaleRow = z.infer<typeof stepScaleSchema>;
