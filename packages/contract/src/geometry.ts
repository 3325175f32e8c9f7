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

export const projectionSchema = z.enum(['flat', 'cylindrical', 'spherical']);

/** How a frame lies in a merge where no similarity can say it (see core/image/frameView). */
export const frameViewSchema = z.discriminatedUnion('model', [
  z.strictObject({ model: z.literal('homography'), toFrame: matrixSchema }),
  z.strictObject({
    model: z.literal('rotating-camera'),
    canvas: z.strictObject({ projection: projectionSchema, focalPx: z.number(), axis: pointSchema }),
    rotation: matrixSchema,
    focalPx: z.number(),
    centre: pointSchema,
    halfDiagonalPx: z.number(),
    distortion: pointSchema,
    vignetting: pointSchema,
  }),
]);

export const measurementSchema = z.strictObject({ value: z.number(), unit: z.string() });
