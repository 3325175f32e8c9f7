// Geometry and tone as they cross borders.
import { z } from 'zod';

export const similaritySchema = z.strictObject({ re: z.number(), im: z.number(), tx: z.number(), ty: z.number() });

export const regionSchema = z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() });

export const pointSchema = z.tuple([z.number(), z.number()]);

export const toneSchema = z.tuple([z.array(z.number()), z.array(z.number()), z.array(z.number())]);

export const measurementSchema = z.strictObject({ value: z.number(), unit: z.string() });
