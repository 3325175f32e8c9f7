// A merge under inspection: frames in its geometry, findings.
import { z } from 'zod';
import {
  areaSchema,
  geometrySchema,
  layoutSchema,
  measurementSchema,
  pointSchema,
  regionSchema,
  sightSchema,
  toneSchema,
} from './geometry';
import { defectSchema, kindSchema } from './report';

/** A frame placed in the merge. */
export const mergeFrameSchema = z.strictObject({
  pictureId: z.string(),
  fileName: z.string(),
  /** How the frame lies in the merge. */
  geometry: geometrySchema,
  tone: toneSchema,
  /** Shares of its channels, where the merge has no colour; null where it has. */
  grey: z.tuple([z.number(), z.number(), z.number()]).nullable().default(null),
  /** The same for a bracket, whose channels are toned first and mixed afterwards. */
  mix: z.tuple([z.number(), z.number(), z.number()]).nullable().default(null),
  /** Places of the frame (px) with what they miss others by (px): parallax, drift, motion. */
  residuals: z.array(z.tuple([z.number(), z.number(), z.number()])).default([]),
  scale: z.number(),
  shiftPx: pointSchema,
  rotationDeg: z.number(),
  /** Null where nothing ties the frame to others. */
  residualPx: z.number().nullable(),
  correlation: z.number(),
  coverage: z.number(),
  share: z.number(),
});

/** A straight gradient: from one frame to the next across a line (see core/merge/blendShares). */
export const gradientSchema = z.strictObject({
  x: z.number().min(0).max(1),
  y: z.number().min(0).max(1),
  angleDeg: z.number().min(-360).max(360),
  width: z.number().gt(0).max(2),
});

/** What the frames are aligned on: a marked area, the sharp part of one frame (picture id), or all of the picture. */
export const subjectAreaSchema = z
  .strictObject({ shapes: areaSchema.default([]), sharpOf: z.string().nullable().default(null) })
  .refine(
    ({ shapes, sharpOf }) => shapes.length === 0 || sharpOf === null,
    'either a marked area or the sharp part of a frame, not both',
  );

/** How frames are aligned; model and subject do not concern panoramas. */
export const alignmentOptionsSchema = z.strictObject({
  /** auto: a similarity, and more freedoms where the frames tilt against each other. */
  model: z.enum(['auto', 'shift', 'similarity', 'affine', 'homography']).default('auto'),
  /** Frames may be shifted locally so far that straight lines bend by so many px; 0: not at all. */
  bendPx: z.number().min(0).max(20).default(0),
  subject: subjectAreaSchema.prefault({}),
});

/** A part of the picture that is to come from one frame. */
export const framePartSchema = z.strictObject({ frame: z.number().int().min(0), shapes: areaSchema });

/** How a set is merged; what does not concern its kind is not looked at. */
export const mergeOptionsSchema = z.strictObject({
  /** Of a focus stack. */
  stackMethod: z.enum(['labels', 'reference', 'bands', 'gradient']).default('labels'),
  projection: z.union([z.literal('auto'), layoutSchema]).default('auto'),
  crop: z.boolean().default(true),
  evenLight: z.boolean().default(true),
  /** Of a bracket. */
  method: z.enum(['fusion', 'light', 'gradient', 'painted']).default('fusion'),
  ghostSafe: z.boolean().default(true),
  gradients: z.array(gradientSchema).max(32).default([]),
  /** Of a painted bracket: what comes from other frames than the reference, and how softly (share of the width). */
  parts: z.array(framePartSchema).max(32).default([]),
  partsFeather: z.number().min(0).max(0.5).default(0.02),
});

/** A frame and what is to be said of it. */
export const frameRemarkSchema = z.strictObject({ fileName: z.string(), why: z.string() });

/** A projection as it would come out. */
export const projectionFiguresSchema = z.strictObject({
  projection: layoutSchema,
  width: z.number(),
  height: z.number(),
  stretch: z.number(),
  cropLoss: z.number(),
  bend: z.number(),
  /** How far neighbours miss each other where they meet, px: by what the layout cannot show, not by how they were aligned. */
  misfitPx: z.number().default(0),
});

/** What any merge is known by, whatever its kind. */
const factsOfAll = {
  failed: z.array(frameRemarkSchema),
  remarks: z.array(frameRemarkSchema),
  /** Most that local shifts bend a straight line, px; null where there are none. */
  bendPx: z.number().nullable(),
};

/** Parts of the picture that come from one frame each, and the length of the borders between them. */
const bordersSchema = z.strictObject({ parts: z.number().int(), lengthPx: z.number() });

/** The model that frames of one standpoint took. */
const fittedModelSchema = z.enum(['shift', 'similarity', 'affine', 'homography']);

/** What is known of a merged focus stack. */
export const stackFactsSchema = z.strictObject({
  kind: z.literal('focus-stack'),
  ...factsOfAll,
  model: fittedModelSchema,
  borders: bordersSchema.nullable(),
  /** Where each frame lies on the focus axis, in typical steps, and how that is known; null where nobody looked. */
  focus: z.strictObject({ positions: z.array(z.number()), source: z.enum(['breathing', 'equal-steps']) }).nullable(),
});

/** What is known of a panorama. */
export const panoramaFactsSchema = z.strictObject({
  kind: z.literal('panorama'),
  ...factsOfAll,
  borders: bordersSchema.nullable(),
  /** How it was composed; null for one made elsewhere. */
  composed: z
    .strictObject({
      projection: layoutSchema,
      projections: z.array(projectionFiguresSchema),
      focalPx: z.number(),
      distortion: pointSchema,
      vignetting: pointSchema,
      /** Median step of light between frames that is left, as a share. */
      lightResidual: z.number(),
      /** Mean difference of the frames under the seams, encoded 0..1. */
      disagreement: z.number(),
      uprightSupport: z.number(),
      /** Straight lines found in the frames, by which bending is judged; 0: chords of the frames instead. */
      lines: z.number().int().default(0),
      cropLoss: z.number(),
    })
    .nullable(),
});

/** What is known of a merged bracket. */
export const bracketFactsSchema = z.strictObject({
  kind: z.literal('bracket'),
  ...factsOfAll,
  model: fittedModelSchema,
  /** Exposure of each frame against the reference, EV. */
  evs: z.array(z.number()),
  /** Share of the picture in which something moved; null for one made elsewhere. */
  moving: z.number().nullable(),
});

/** What was measured while merging, by kind. */
export const mergeFactsSchema = z.discriminatedUnion('kind', [
  stackFactsSchema,
  panoramaFactsSchema,
  bracketFactsSchema,
]);

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
  /** What the last re-inspection after a repair said; empty before the first. */
  recheck: z.string(),
  /** Marked by a person, not found by a detector. */
  byHand: z.boolean().default(false),
  /** For other ways of looking than at full size on a screen; null for findings from before it was kept. */
  sight: sightSchema.nullable().default(null),
});

/** A place marked by hand. */
export const handMarkSchema = z.strictObject({ defect: defectSchema, polygon: z.array(pointSchema).min(3).max(4000) });

export const decisionChangeSchema = z.strictObject({
  decision: decisionSchema,
  reason: z.string().max(400).default(''),
});

/** Findings of a merge that changed after a revision that somebody knows, in the order of the report. */
export const findingChangesSchema = z.strictObject({
  revision: z.number().int(),
  changed: z.array(findingSchema),
});

/** Maps of the evidence that people look at. */
export const lookMapSchema = z.enum(['sharpness', 'disagreement', 'risk']);

/** What became of the repairs of the merge before, when a job was merged again. */
export const carrySchema = z.strictObject({
  taken: z.number().int(),
  /** What was not carried over, and why. */
  left: z.array(z.strictObject({ words: z.string(), why: z.string() })),
});

/** What a merge is; none of it changes while the merge lives. Its findings and operations are asked for by themselves. */
export const mergeSchema = z.strictObject({
  id: z.string(),
  jobId: z.string(),
  jobName: z.string(),
  kind: kindSchema,
  origin: z.enum(['own', 'imported']),
  fileName: z.string(),
  width: z.number().int(),
  height: z.number().int(),
  bits: z.union([z.literal(8), z.literal(16)]),
  reference: z.number().int(),
  options: mergeOptionsSchema,
  alignment: alignmentOptionsSchema,
  facts: mergeFactsSchema,
  /** Defects that this merge was inspected for; empty when nobody looked. */
  lookedFor: z.array(defectSchema),
  /** Defects that it can have and that nobody but its reader looks for. */
  leftToTheEye: z.array(defectSchema),
  /** Maps of its evidence that there are. */
  maps: z.array(lookMapSchema),
  frames: z.array(mergeFrameSchema),
  /** Null where there was no merge before, or nothing was done on it. */
  carried: carrySchema.nullable(),
});

/** The frames at one place: what the trace strip shows under the pointer. */
export const probeSchema = z.strictObject({
  x: z.number(),
  y: z.number(),
  frames: z.array(frameMeasureSchema),
  shown: z.number().int().nullable(),
  /** The place as each frame shows it, side by side in their order: a JPEG as a data address. */
  patches: z.string().startsWith('data:image/jpeg;base64,'),
  /** How many there are: one of each frame, and of each other merge that is painted with. */
  patchCount: z.number().int(),
  /** Side of each patch, px. */
  patchPx: z.number().int(),
});

export type AlignmentSettings = z.infer<typeof alignmentOptionsSchema>;
export type SubjectArea = z.infer<typeof subjectAreaSchema>;
export type AreaShapes = z.infer<typeof areaSchema>;
export type PanoramaLayoutName = z.infer<typeof layoutSchema>;
export type MergeSettings = z.infer<typeof mergeOptionsSchema>;
export type MergeFacts = z.infer<typeof mergeFactsSchema>;
export type PanoramaFacts = z.infer<typeof panoramaFactsSchema>;
export type FrameRemark = z.infer<typeof frameRemarkSchema>;
export type ProjectionFigures = z.infer<typeof projectionFiguresSchema>;
export type Carry = z.infer<typeof carrySchema>;
export type LookMapName = z.infer<typeof lookMapSchema>;
export type MergeFrame = z.infer<typeof mergeFrameSchema>;
export type FrameMeasure = z.infer<typeof frameMeasureSchema>;
export type Decision = z.infer<typeof decisionSchema>;
export type Finding = z.infer<typeof findingSchema>;
export type FindingChanges = z.infer<typeof findingChangesSchema>;
export type Merge = z.infer<typeof mergeSchema>;
export type HandMark = z.infer<typeof handMarkSchema>;
export type Probe = z.infer<typeof probeSchema>;
