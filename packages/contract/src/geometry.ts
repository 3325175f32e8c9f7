// Geometry and tone as they cross borders.
import { z } from 'zod';

export const similaritySchema = z.strictObject({ re: z.number(), im: z.number(), tx: z.number(), ty: z.number() });

export const regionSchema = z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() });

export const pointSchema = z.tuple([z.number(), z.number()]);

export const toneSchema = z.tuple([z.array(z.number()), z.array(z.number()), z.array(z.number())]);

const matrixSchema = z.tuple([
  z.number(),
  z.number(),
  z.number(),
  z.number(),
  z.number(),
  z.number(),
  z.number(),
  z.number(),
  z.number(),
]);

/** How directions become places on a canvas. */
export const projectionSchema = z.enum(['flat', 'cylindrical', 'spherical']);

/** How a panorama is laid out: on a canvas, or its frames only shifted and turned. */
export const layoutSchema = z.enum([...projectionSchema.options, 'repositioned']);

/** Small local shifts of a frame (see core/frame/localField). */
export const localFieldSchema = z.strictObject({
  columns: z.number().int().min(1),
  rows: z.number().int().min(1),
  width: z.number(),
  height: z.number(),
  dx: z.array(z.number()),
  dy: z.array(z.number()),
});

const shade = { centre: pointSchema, halfDiagonalPx: z.number(), vignetting: pointSchema };

/** How a frame lies in a merge (see core/frame/geometry). */
export const geometrySchema = z.discriminatedUnion('model', [
  z.strictObject({
    model: z.literal('similarity'),
    toMerge: similaritySchema,
    local: z.exactOptional(localFieldSchema),
  }),
  z.strictObject({
    model: z.literal('homography'),
    toFrame: matrixSchema,
    shade: z.exactOptional(z.strictObject(shade)),
    local: z.exactOptional(localFieldSchema),
  }),
  z.strictObject({
    model: z.literal('rotating-camera'),
    canvas: z.strictObject({ projection: projectionSchema, focalPx: z.number(), axis: pointSchema }),
    rotation: matrixSchema,
    focalPx: z.number(),
    ...shade,
    distortion: pointSchema,
    local: z.exactOptional(localFieldSchema),
  }),
]);

const placeSchema = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]);

/** Parts of a picture that a person marked, in shares of its width and height (see core/image/area). */
export const areaSchema = z
  .array(
    z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('polygon'), corners: z.array(placeSchema).min(3).max(200) }),
      z.strictObject({
        kind: z.literal('brush'),
        points: z.array(placeSchema).min(1).max(5000),
        /** In shares of the width. */
        radius: z.number().gt(0).max(0.5),
      }),
    ]),
  )
  .max(400);

/** What of a place decides how plainly it shows (see core/print/visibility). */
export const sightSchema = z.strictObject({
  bands: z.array(z.strictObject({ cyclesPerPx: z.number(), rms: z.number(), mask: z.number() })),
  luma: z.number(),
  sizePx: z.number(),
  colour: z.number(),
});

export const measurementSchema = z.strictObject({ value: z.number(), unit: z.string() });
