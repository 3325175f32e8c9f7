// From mended picture to delivered print: straightening, crop, what stands against signing, the signature, and what is delivered.
import { z } from 'zod';
import { regionSchema } from './geometry';

/** Shapes that a crop can be asked for, width over height; null for any. */
const aspectSchema = z.number().min(0.05).max(20).nullable();

/** How a merge is cut for delivery. */
export const cutSchema = z.strictObject({
  /** Clockwise turn about the middle, degrees. */
  turnDeg: z.number().min(-20).max(20).default(0),
  /** In px of the turned picture, which has the merge's middle; null for all of a picture that is not turned. */
  crop: regionSchema.nullable().default(null),
});

/** A crop that is asked for. */
export const cropWishSchema = z.strictObject({
  turnDeg: z.number().min(-20).max(20).default(0),
  aspect: aspectSchema.default(null),
});

/** What a crop costs, as shares. */
const cutCostSchema = z.strictObject({ ofPicture: z.number(), ofSubject: z.number().nullable() });

export const proposedCutSchema = z.strictObject({ cut: cutSchema, cost: cutCostSchema });

/** What can stand against a signature. */
export const obstacleKindSchema = z.enum(['open', 'accepted', 'reshoot', 'unseen', 'stale']);

export const waiverSchema = z.strictObject({
  reason: z.string(),
  by: z.string(),
  at: z.string(),
});

export const obstacleSchema = z.strictObject({
  kind: obstacleKindSchema,
  words: z.string(),
  /** Names what exactly stands there: a waiver is of this and of nothing that comes later. */
  covers: z.string(),
  waiver: waiverSchema.nullable(),
});

export const verdictSchema = z.enum(['deliver', 'deliver-with-remarks', 'reshoot']);

export const signatureSchema = z.strictObject({
  by: z.string(),
  at: z.string(),
  verdict: verdictSchema,
  remarks: z.string(),
});

/** A merge on the way out. */
export const finishSchema = z.strictObject({
  mergeId: z.string(),
  cut: cutSchema,
  cost: cutCostSchema,
  obstacles: z.array(obstacleSchema),
  signature: signatureSchema.nullable(),
  /** Of all that is signed: it is asked for again when that changed in the meantime. */
  state: z.string(),
  /** Clockwise turn that puts most straight edges upright or level, and how many agree; null where they do not. */
  tilt: z.strictObject({ turnDeg: z.number(), edges: z.number().int(), share: z.number() }).nullable(),
  /** What is to be shot again, in the units of the camera. */
  reshoot: z.array(z.string()),
});

const nameSchema = z.string().trim().min(1).max(80);

export const waiveSchema = z.strictObject({
  kind: obstacleKindSchema,
  covers: z.string(),
  by: nameSchema,
  reason: z.string().trim().min(1).max(400),
});

export const signSchema = z.strictObject({
  by: nameSchema,
  verdict: verdictSchema,
  remarks: z.string().trim().max(2000).default(''),
  /** The state that was looked at. */
  state: z.string(),
});

/** What a delivery holds. */
export const deliveryPartSchema = z.enum(['tiff', 'print', 'jpeg', 'layers', 'masks', 'report', 'pdf']);

export const deliveryOrderSchema = z.strictObject({
  parts: z.array(deliveryPartSchema).min(1),
  /** How files are called; words in braces are filled in. */
  pattern: z.string().trim().min(1).max(120).default('{job} {date}'),
  /** Of the JPEG; null for full size. */
  longSidePx: z.number().int().min(200).max(60_000).nullable().default(2400),
  /** Most that the JPEG may take; null for any. */
  mostBytes: z.number().int().min(20_000).max(1_000_000_000).nullable().default(null),
  /** Whether the JPEG is sharpened for screens. */
  sharpen: z.boolean().default(false),
  /** One ZIP to take away, or a folder on the machine that Blendrak runs on. */
  into: z.enum(['zip', 'folder']).default('zip'),
});

/** What the message of work says that delivered into a folder, before the folder's path. */
export const INTO_FOLDER = 'delivered into ';

export type Cut = z.infer<typeof cutSchema>;
export type CropWishOrder = z.infer<typeof cropWishSchema>;
export type ProposedCut = z.infer<typeof proposedCutSchema>;
export type ObstacleKind = z.infer<typeof obstacleKindSchema>;
export type Obstacle = z.infer<typeof obstacleSchema>;
export type Verdict = z.infer<typeof verdictSchema>;
export type Signature = z.infer<typeof signatureSchema>;
export type Finish = z.infer<typeof finishSchema>;
export type WaiveOrder = z.infer<typeof waiveSchema>;
export type SignOrder = z.infer<typeof signSchema>;
export type DeliveryPart = z.infer<typeof deliveryPartSchema>;
export type DeliveryOrder = z.infer<typeof deliveryOrderSchema>;
