// An order to the simulated camera: what to photograph and how.
import { z } from 'zod';
import { defectSchema } from './report';

export const subjectSchema = z.enum(['gear-train', 'signal-flags', 'cove', 'tower', 'lamp-room', 'tower-nested']);
export type ShootSubject = z.infer<typeof subjectSchema>;

const setting = (name: string, low: number, high: number, unit = '') => {
  const words = `${name}: from ${low}${unit} to ${high}${unit} is accepted`;
  return z.number({ error: words }).min(low, words).max(high, words);
};

export const shootSettingsSchema = z.strictObject({
  focalLengthMm: setting('focal length', 10, 200, ' mm'),
  fNumber: setting('f-number', 1.4, 32),
  iso: setting('ISO', 50, 12800),
  /** Dioptres between frames of a stack, EV of a bracket, overlap of a panorama (share); null leaves it to the camera. */
  step: z.number().positive('step: more than 0 is accepted').nullable(),
  /** Distance of the first focus of a stack; null: the subject's nearest point. */
  focusFromMm: setting('first focus', 50, 1e6, ' mm').nullable(),
  rows: setting('rows', 1, 3).int('rows: a whole number is accepted'),
  /** 0 calm, 1 fresh breeze, 2 strong. */
  wind: setting('wind', 0, 2),
  support: z.enum(['tripod', 'hand']),
  intervalS: setting('interval', 0, 60, ' s'),
  pupilOffsetMm: setting('pupil offset', -200, 200, ' mm'),
  lightDriftEvPerMin: setting('light drift', -2, 2, ' EV/min'),
  /** Leave distortion, vignetting and lateral colour in the files. */
  uncorrected: z.boolean(),
  /** Specks of dust on the sensor. */
  dust: setting('dust', 0, 40, ' specks').int('dust: a whole number of specks is accepted'),
});

export const shootOrderSchema = z.strictObject({
  name: z.string().trim().min(1, 'name: a name is needed').max(120),
  subject: subjectSchema,
  seed: z
    .number()
    .int('seed: a whole number is accepted')
    .min(0)
    .max(2 ** 31 - 1),
  longSidePx: setting('longer side', 320, 12000, ' px').int('longer side: a whole number of px is accepted'),
  frames: setting('frames', 1, 100).int('frames: a whole number is accepted'),
  settings: shootSettingsSchema,
  format: z.enum(['jpeg', 'png', 'tiff']),
  bits: z.union([z.literal(8), z.literal(16)]),
  /** A frame of the hand at the end of the set, as people take it to tell sets apart. */
  separator: z.boolean(),
  /** Also compose a merge made elsewhere, with defects in it. */
  mergeElsewhere: z.boolean(),
  /** Which defects it has, for practice, and what share of them is faint; a few of everything, all plain, when left out. */
  seeded: z.strictObject({ defects: z.array(defectSchema), subtle: z.number().min(0).max(1) }).optional(),
});

/** Several sets one after the other on one card. */
export const cardOrderSchema = z.strictObject({ sets: z.array(shootOrderSchema).min(1).max(20) });

export type CardOrder = z.infer<typeof cardOrderSchema>;
export type ShootOrder = z.infer<typeof shootOrderSchema>;
export type ShootSettingsOrder = z.infer<typeof shootSettingsSchema>;

/** What the camera can photograph, with the settings a careful photographer would choose. */
export const shootMenuSchema = z.array(
  z.strictObject({
    subject: subjectSchema,
    kind: z.enum(['focus-stack', 'panorama', 'bracket']),
    title: z.string(),
    frames: z.number().int(),
    settings: shootSettingsSchema,
    /** Where the subject lies in front of the camera; far is null for infinity. */
    subjectMm: z.strictObject({ near: z.number(), far: z.number().nullable() }),
  }),
);
export type ShootMenu = z.infer<typeof shootMenuSchema>;
