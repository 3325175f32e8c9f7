// The report file (docs/formats.md): written and read by command line and server.
import { z } from 'zod';
import { measurementSchema, pointSchema } from './geometry';
import { cutSchema, obstacleKindSchema, signatureSchema, waiverSchema } from './finish';
import { pinSchema } from './instruments';

/** Closed list of defect words, used in code, database, files and interface. */
export const DEFECT_WORDS = [
  'halo',
  'ghost',
  'seam',
  'misalignment',
  'soft-patch',
  'focus-gap',
  'mask-speckle',
  'border',
  'dust',
  'fringe',
  'clipping',
] as const;

export const defectSchema = z.enum(DEFECT_WORDS);

export const kindSchema = z.enum(['focus-stack', 'panorama', 'bracket']);

const matrixSchema = z.array(z.number()).length(9);

export const reportFrameSchema = z.strictObject({
  file: z.string(),
  coverage: z.number().min(0).max(1),
  share: z.number().min(0).max(1),
  alignment: z.strictObject({
    model: z.string(),
    matrix: matrixSchema,
    scale: z.number(),
    shiftPx: pointSchema,
    rotationDeg: z.number(),
    /** Null where nothing ties the frame to others. */
    residualPx: z.number().nullable(),
    /** What the model takes beyond a matrix: a turned camera, its lens, the canvas. */
    parameters: z.record(z.string(), z.union([z.string(), z.number(), z.array(z.number())])).optional(),
  }),
});

export const reportFindingSchema = z.strictObject({
  id: z.string(),
  defect: defectSchema,
  region: z.strictObject({
    bbox: z.tuple([z.number(), z.number(), z.number(), z.number()]),
    polygon: z.array(pointSchema).min(3),
  }),
  severity: z.number().min(0).max(100),
  confidence: z.number().min(0).max(1),
  cause: z.string(),
  measurements: z.record(z.string(), measurementSchema),
  sources: z.array(
    z.strictObject({
      frame: z.string(),
      role: z.enum(['shown', 'conflict', 'donor']),
      share: z.number().min(0).max(1),
    }),
  ),
  donor: z.string().nullable(),
  /** All within 5 % of the best, which comes first; absent in reports from before it was written. */
  donors: z.array(z.string()).optional(),
  repairable: z.boolean(),
});

export const reportSchema = z.strictObject({
  format: z.literal('blendrak-report'),
  version: z.literal(1),
  kind: kindSchema,
  merge: z.strictObject({ file: z.string(), width: z.number().int(), height: z.number().int() }),
  frames: z.array(reportFrameSchema),
  findings: z.array(reportFindingSchema),
  /** What people measured, where they did. */
  pins: z.array(pinSchema.omit({ id: true, mergeId: true, revision: true })).optional(),
  /** What was repaired, in the order in which it acts, where something was. */
  repairs: z
    .array(
      z.strictObject({
        words: z.string(),
        donor: z.string().nullable(),
        bbox: z.tuple([z.number(), z.number(), z.number(), z.number()]),
      }),
    )
    .optional(),
  /** How it went out, where somebody cut, waived or signed. */
  finish: z
    .strictObject({
      cut: cutSchema,
      signature: signatureSchema.nullable(),
      waivers: z.array(waiverSchema.extend({ kind: obstacleKindSchema })),
      /** Parts of the picture that no frame shows: what was filled from around it. */
      invented: z.array(z.string()),
    })
    .optional(),
});

/** What came of a report that was read back. */
export const readReportSchema = z.strictObject({ taken: z.number().int(), known: z.number().int() });

export type ReadReport = z.infer<typeof readReportSchema>;
export type DefectWord = z.infer<typeof defectSchema>;
export type MergeKind = z.infer<typeof kindSchema>;
export type ReportFrame = z.infer<typeof reportFrameSchema>;
export type ReportFinding = z.infer<typeof reportFindingSchema>;
export type Report = z.infer<typeof reportSchema>;
