// Jobs, their pictures and the long work done on them.
import { z } from 'zod';
import { verdictSchema } from './finish';
import { regionSchema } from './geometry';
import { alignmentOptionsSchema, mergeOptionsSchema } from './merge';
import { defectSchema, kindSchema } from './report';

export const exifSchema = z.strictObject({
  camera: z.string().nullable(),
  lens: z.string().nullable(),
  takenAt: z.string().nullable(),
  exposureS: z.number().nullable(),
  fNumber: z.number().nullable(),
  focalLengthMm: z.number().nullable(),
  iso: z.number().nullable(),
  focusDistanceM: z.number().nullable(),
  /** Focal length that would see the same on a sensor of 36 × 24 mm; absent in pictures taken in before it was read. */
  focalLength35Mm: z.number().nullable().default(null),
  whiteBalance: z.string().nullable().default(null),
});

/** A frame that is the merge of another job; stale when that merge changed since. */
export const linkedFrameSchema = z.strictObject({
  jobId: z.string(),
  jobName: z.string().nullable(),
  state: z.enum(['fresh', 'stale', 'gone']),
});

export const pictureSchema = z.strictObject({
  id: z.string(),
  jobId: z.string(),
  role: z.enum(['frame', 'merge']),
  position: z.number().int(),
  fileName: z.string(),
  status: z.enum(['waiting', 'ready', 'failed']),
  error: z.string().nullable(),
  sizeBytes: z.number().int(),
  width: z.number().int().nullable(),
  height: z.number().int().nullable(),
  bits: z.union([z.literal(8), z.literal(16)]).nullable(),
  profile: z.string().nullable(),
  exif: exifSchema.nullable(),
  linked: linkedFrameSchema.nullable(),
});

/** What a first look at a small picture of a merge shows, while the whole is looked at. */
export const firstLookSchema = z.strictObject({
  /** Picture of a merge made elsewhere; null of an own one, which cannot be seen yet. */
  pictureId: z.string().nullable(),
  /** Of the merge, px. */
  width: z.number().int(),
  height: z.number().int(),
  findings: z.array(z.strictObject({ defect: defectSchema, bbox: regionSchema, severity: z.number() })),
});

export const workSchema = z.strictObject({
  id: z.string(),
  /** Null for work on a card. */
  jobId: z.string().nullable(),
  kind: z.enum(['intake', 'process', 'shoot', 'sort', 'export', 'mend', 'deliver', 'source']),
  /** Paused: it waits for room on the disk, and goes on by itself. */
  status: z.enum(['queued', 'running', 'paused', 'done', 'failed', 'cancelled']),
  progress: z.number().min(0).max(1),
  message: z.string(),
  error: z.string().nullable(),
  /** While a large merge is being looked at. */
  first: firstLookSchema.optional(),
});

export const jobSummarySchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  kind: kindSchema,
  /** Nobody has said the kind yet: it is told from the frames when they are processed. */
  isKindOpen: z.boolean().default(false),
  createdAt: z.string(),
  frames: z.number().int(),
  mergeId: z.string().nullable(),
  mergeFile: z.string().nullable(),
  thumbnailId: z.string().nullable(),
  /** Open findings that show in the way in which the picture will be looked at. */
  openFindings: z.number().int(),
  allFindings: z.number().int(),
  /** What the merge was signed as; null while nobody has. */
  verdict: verdictSchema.nullable().default(null),
  work: workSchema.nullable(),
});

/** Findings are shown, surest first, until so many of them are expected to be nothing; absent for no limit. */
const falseAlarms = z.number().min(0.01).max(1000).optional();

/** How the picture will be looked at: by this it is told what shows, and how sure a finding has to be to be shown. */
export const viewingSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('screen'), falseAlarms }),
  z.strictObject({
    falseAlarms,
    kind: z.literal('print'),
    longSideMm: z.number().min(20).max(20_000),
    /** Null: the print's diagonal, as is usual. */
    distanceMm: z.number().min(100).max(100_000).nullable(),
  }),
]);

const saidSchema = z.string().trim().max(80).default('');

/** How a job was shot, as people say it; empty where nobody has said. */
export const circumstancesSchema = z.strictObject({ support: saidSchema, place: saidSchema, light: saidSchema });

export const jobChangeSchema = z
  .strictObject({
    viewing: viewingSchema,
    circumstances: circumstancesSchema,
    /** What the frames are taken for when they are processed next; `auto` for what they look like. */
    kind: z.union([z.literal('auto'), kindSchema]),
  })
  .partial()
  .refine((change) => Object.keys(change).length > 0, 'at least one of viewing, circumstances, kind');

export const jobSchema = z.strictObject({
  summary: jobSummarySchema,
  viewing: viewingSchema.default({ kind: 'screen' }),
  circumstances: circumstancesSchema.prefault({}),
  pictures: z.array(pictureSchema),
  work: z.array(workSchema),
});

export const newJobSchema = z.strictObject({
  name: z.string().trim().min(1).max(120),
  /** Told from the frames where it is left out. */
  kind: kindSchema.optional(),
});
export const folderSchema = z.strictObject({
  path: z.string().trim().min(1),
  merge: z.string().trim().min(1).optional(),
});
export const processSchema = z.strictObject({
  reference: z.union([z.literal('auto'), z.string()]).default('auto'),
  options: mergeOptionsSchema.prefault({}),
  alignment: alignmentOptionsSchema.prefault({}),
  /** A merge of our own is made although the job has one made elsewhere. */
  own: z.boolean().default(false),
  /** What can be repaired of the merge is repaired at once. */
  mend: z.boolean().default(false),
});

/** A flat picture file of a merge with its repairs: 16 bits but for JPEG. */
export const pictureFormatSchema = z.enum(['tiff', 'png', 'jpeg']);
export const newExportSchema = z.strictObject({ format: pictureFormatSchema });

export type PictureFormat = z.infer<typeof pictureFormatSchema>;
export type ProcessRequest = z.infer<typeof processSchema>;
/** The same as a client sends it: what is left out is as usual. */
export type ProcessInput = z.input<typeof processSchema>;
export type Exif = z.infer<typeof exifSchema>;
export type LinkedFrame = z.infer<typeof linkedFrameSchema>;
export type Picture = z.infer<typeof pictureSchema>;
export type FirstLook = z.infer<typeof firstLookSchema>;
export type Work = z.infer<typeof workSchema>;

/** Whether work has not ended yet. */
export function isOpenWork({ status }: Pick<Work, 'status'>): boolean {
  return status === 'queued' || status === 'running' || status === 'paused';
}
export type JobSummary = z.infer<typeof jobSummarySchema>;
export type Circumstances = z.infer<typeof circumstancesSchema>;
export type JobChange = z.infer<typeof jobChangeSchema>;
export type ViewingSettings = z.infer<typeof viewingSchema>;
export type Job = z.infer<typeof jobSchema>;
