// A card's files and the sets found on it, as the interface shows and edits them.
import { z } from 'zod';
import { exifSchema, workSchema } from './job';
import { kindSchema } from './report';
import { frameCheckSchema } from './sets';

export const cardSetSchema = z.strictObject({
  id: z.string(),
  kind: kindSchema,
  /** Ids of files, in order. */
  files: z.array(z.string()),
  /** A word on each file: near, under, column 2 …; only where something can be said. */
  labels: z.record(z.string(), z.string()),
  /** Of these, files that are left out. */
  leftOut: z.array(z.string()),
  why: z.string(),
  confidence: z.number().min(0).max(1),
  /** Ids of inner sets. */
  nested: z.array(z.string()),
  checks: z.array(frameCheckSchema),
  /** What each frame shares with the next, 0..1; one less than files, or none where it is not known. */
  overlaps: z.array(z.number().min(0).max(1)).default([]),
  /** The job that was made of it. */
  jobId: z.string().nullable(),
});

export const sortingSchema = z.strictObject({
  sets: z.array(cardSetSchema),
  separators: z.array(z.string()),
  unassigned: z.array(z.string()),
});

export const cardFileSchema = z.strictObject({
  id: z.string(),
  fileName: z.string(),
  sizeBytes: z.number(),
  looked: z.boolean(),
  error: z.string().nullable(),
  exif: exifSchema.nullable(),
});

export const cardSummarySchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  createdAt: z.string(),
  files: z.number().int(),
  sets: z.number().int(),
  work: workSchema.nullable(),
});

export const cardSchema = z.strictObject({
  summary: cardSummarySchema,
  files: z.array(cardFileSchema),
  sorting: sortingSchema.nullable(),
});

export const newCardSchema = z.strictObject({
  name: z.string().trim().min(1, 'a name is needed').max(120),
  /** A folder on the server's machine whose files are read where they lie; null to drop files. */
  folder: z.string().trim().min(1).nullable(),
});

export type CardSet = z.infer<typeof cardSetSchema>;
export type CardSorting = z.infer<typeof sortingSchema>;
export type CardFile = z.infer<typeof cardFileSchema>;
export type CardSummary = z.infer<typeof cardSummarySchema>;
export type Card = z.infer<typeof cardSchema>;
