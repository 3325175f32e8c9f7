// The sets of a card (docs/formats.md): written by `blendrak sort` and by the server.
import { z } from 'zod';
import { kindSchema } from './report';

export const frameCheckSchema = z.strictObject({
  file: z.string(),
  check: z.enum([
    'size',
    'camera',
    'focal-length',
    'aperture',
    'iso',
    'exposure',
    'white-balance',
    'profile',
    'bit-depth',
    'brightness',
    'contrast',
    'colour',
    'shake',
    'duplicate',
    'missing-step',
    'redundant',
    'vignetting',
    'other-scene',
    'lateral-colour',
  ]),
  value: z.union([z.number(), z.string()]),
  limit: z.union([z.number(), z.string()]),
  unit: z.string(),
  meaning: z.string(),
  spoils: z.boolean(),
});

export const sortedSetSchema = z.strictObject({
  id: z.string(),
  kind: kindSchema,
  frames: z.array(z.string()),
  why: z.string(),
  confidence: z.number().min(0).max(1),
  checks: z.array(frameCheckSchema),
  nested: z.array(z.string()),
});

export const setsReportSchema = z.strictObject({
  format: z.literal('blendrak-sets'),
  version: z.literal(1),
  sets: z.array(sortedSetSchema),
  separators: z.array(z.string()),
  unassigned: z.array(z.string()),
});

export type FrameCheckRecord = z.infer<typeof frameCheckSchema>;
export type SortedSet = z.infer<typeof sortedSetSchema>;
export type SetsReport = z.infer<typeof setsReportSchema>;
