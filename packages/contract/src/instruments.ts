// What people measure and look at by themselves: pins with their readings, and what of a merge was looked at.
import { z } from 'zod';
import { pointSchema } from './geometry';

export const pinKindSchema = z.enum(['line', 'edge', 'patch']);

/** Values along a segment, one for each px, or thinned to so many; null where there is nothing. */
const trackSchema = z.array(z.number().nullable());
const framesTracksSchema = z.array(z.strictObject({ frame: z.number().int(), values: trackSchema }));

const stepSchema = z.strictObject({ offsetPx: z.number(), kinkDeg: z.number(), errorPx: z.number() });
const shapeSchema = z.strictObject({ before: z.number(), after: z.number(), widthPx: z.number(), at: z.number() });

const patchMeasureSchema = z.strictObject({
  colour: z.tuple([z.number(), z.number(), z.number()]),
  grain: z.number(),
  detail: z.number(),
});
const patchPairSchema = z.strictObject({ from: patchMeasureSchema, to: patchMeasureSchema, difference: z.number() });

/** What an instrument read (see core/instruments). */
export const readingSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('line'),
    /** Where the line lies across the segment, px; values are `spacingPx` apart along it. */
    merge: trackSchema,
    frames: framesTracksSchema,
    spacingPx: z.number(),
    breaks: z.array(
      z.strictObject({
        at: z.number(),
        border: z.tuple([z.number().int(), z.number().int()]).nullable(),
        merge: stepSchema,
        frame: stepSchema.extend({ index: z.number().int() }).nullable(),
        isBroken: z.boolean(),
      }),
    ),
  }),
  z.strictObject({
    kind: z.literal('edge'),
    /** Encoded luma. */
    merge: trackSchema,
    frames: framesTracksSchema,
    spacingPx: z.number(),
    shape: shapeSchema,
    sharpest: z.strictObject({ frame: z.number().int(), shape: shapeSchema }).nullable(),
    bands: z.array(
      z.strictObject({ side: z.enum(['before', 'after']), heightPercent: z.number(), widthPx: z.number() }),
    ),
  }),
  z.strictObject({
    kind: z.literal('patch'),
    sidePx: z.number(),
    merge: patchPairSchema,
    /** Frames that cover both places, with the ΔE00 of the step that the merge has and they have not. */
    frames: z.array(z.strictObject({ frame: z.number().int(), pair: patchPairSchema, ownStep: z.number() })),
  }),
]);

/** A segment to be measured along, merge px. */
export const newPinSchema = z.strictObject({ kind: pinKindSchema, from: pointSchema, to: pointSchema });

/** A segment that was measured along; it keeps its number. */
export const pinSchema = newPinSchema.extend({
  id: z.string(),
  mergeId: z.string(),
  number: z.number().int(),
  reading: readingSchema,
  /** Revision of the merge's operations at which it was measured. */
  revision: z.number().int(),
});

/** Side of the squares by which it is noted what of a merge was looked at, merge px. */
export const SWEEP_CELL_PX = 128;

/** For how long each square was looked at at full size, in quarters of a second up to 255, row by row. */
export const sweepSchema = z.strictObject({ columns: z.number().int(), rows: z.number().int(), seen: z.base64() });

export type PinKind = z.infer<typeof pinKindSchema>;
export type Reading = z.infer<typeof readingSchema>;
export type NewPin = z.infer<typeof newPinSchema>;
export type Pin = z.infer<typeof pinSchema>;
export type Sweep = z.infer<typeof sweepSchema>;
