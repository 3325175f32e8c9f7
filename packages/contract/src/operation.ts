// Operations of a repair: what is painted in where, in the order in which it acts; and the changes people make to them.
import { z } from 'zod';
import { pointSchema, regionSchema } from './geometry';

/** x and y in merge px, and how firmly a pen was pressed there (1 when left out). */
const penPointSchema = z.tuple([z.number(), z.number(), z.number().min(0).max(1).optional()]);

const strokeShapeSchema = z.strictObject({
  kind: z.literal('stroke'),
  points: z.array(penPointSchema).min(1).max(20000),
  sizePx: z.number().min(1).max(4000),
  hardness: z.number().min(0).max(1),
  strength: z.number().gt(0).max(1),
});

const outlineShapeSchema = z.strictObject({
  kind: z.literal('outline'),
  points: z
    .array(z.tuple([z.number(), z.number()]))
    .min(3)
    .max(10_000),
  growPx: z.number().min(-500).max(500),
  featherPx: z.number().min(0).max(500),
  strength: z.number().gt(0).max(1),
});

/** Full before `from`, nothing beyond `to`, within bounds. */
const fadeShapeSchema = z.strictObject({
  kind: z.literal('fade'),
  from: pointSchema,
  to: pointSchema,
  bounds: regionSchema,
  strength: z.number().gt(0).max(1),
});

/** A mask made elsewhere: 8-bit values over a box, zlib in base 64 (core/repair/maskPicture). */
const pictureShapeSchema = z.strictObject({
  kind: z.literal('picture'),
  box: regionSchema,
  columns: z.number().int().min(1).max(4096),
  rows: z.number().int().min(1).max(4096),
  packed: z.base64().max(4_000_000),
  strength: z.number().gt(0).max(1),
});

/** A mask as it is drawn, by its shape, in merge px. */
export const maskShapeSchema = z.discriminatedUnion('kind', [
  strokeShapeSchema,
  outlineShapeSchema,
  fadeShapeSchema,
  pictureShapeSchema,
]);

/** What moves, and where to: knots along a polyline, each with its move, merge px (core/repair/pull). */
export const pullSchema = z.strictObject({
  knots: z
    .array(z.tuple([z.number(), z.number(), z.number(), z.number()]))
    .min(1)
    .max(1000),
  reachPx: z.number().min(2).max(500),
});

/** Encoded values to be added to a donor, on a grid over the box that its mask can touch and a margin around it (core/repair/toneField). */
export const toneFieldSchema = z
  .strictObject({
    columns: z.number().int().min(2).max(64),
    rows: z.number().int().min(2).max(64),
    /** Levels of lightness, each with a grid of its own; one for all where it is left out. */
    levels: z.number().int().min(2).max(16).optional(),
    values: z.array(z.number().min(-1).max(1)),
    marginPx: z.number().min(0).max(1000).optional(),
  })
  .refine(
    ({ columns, rows, levels = 1, values }) => values.length === 3 * columns * rows * levels,
    'values: three for each node of the grid',
  );

/** A mask over a better source. */
export const operationPartSchema = z.strictObject({
  /** Frame that is painted in; null: the merge as it came, which takes earlier repairs back. */
  donor: z.number().int().min(0).nullable(),
  shape: maskShapeSchema,
  /**
   * How far from the place it is taken, px: a frame nudged to meet its surroundings, or the merge itself (donor null), whose filling is
   * invented.
   */
  shift: z.tuple([z.number().min(-20_000).max(20_000), z.number().min(-20_000).max(20_000)]).optional(),
  /** What brings the donor's tone to its surroundings; left out where it is taken as it is. */
  tone: toneFieldSchema.optional(),
  /** What of the picture as it is then is moved: donor null, without shift or tone. */
  pull: pullSchema.optional(),
});

/** Parts that an operation may have beside its first. */
export const MOST_FURTHER_PARTS = 200;

/** What an operation does; never changed once it is there. */
export const newOperationSchema = operationPartSchema.extend({
  kind: z.literal('paint'),
  /** Further parts, laid after the first in order: several sources each mend a part of one place. */
  also: z.array(operationPartSchema).max(MOST_FURTHER_PARTS).optional(),
});

/** A finding that is to be filled from the picture around it. */
export const fillOrderSchema = z.strictObject({ findingId: z.string() });

const polygonSchema = z
  .array(z.tuple([z.number(), z.number()]))
  .min(3)
  .max(10_000);
const donorSchema = z.number().int().min(0);

/** What is drawn roughly by hand and worked out by the server before it is an operation. */
export const handOrderSchema = z.discriminatedUnion('kind', [
  /** A thing that was drawn around, all of which is to come from one frame. */
  z.strictObject({ kind: z.literal('fit'), donor: donorSchema, polygon: polygonSchema }),
  /** A place whose tone is to lie to a frame as it does around it. */
  z.strictObject({ kind: z.literal('even'), donor: donorSchema, polygon: polygonSchema }),
  /** A stroke with a frame whose tone is brought to what lies around it. */
  z.strictObject({ kind: z.literal('match'), donor: donorSchema, shape: strokeShapeSchema }),
  /** A cable, a pole or an edge that is to run straight from one place to another. */
  z.strictObject({
    kind: z.literal('straighten'),
    from: pointSchema,
    to: pointSchema,
    /** How far beside it the picture gives way, merge px; more where that is needed. */
    reachPx: z.number().min(2).max(500),
  }),
]);

/** How far an edge may lie from a mask's rim that is to be laid to it, merge px. */
export const snapOrderSchema = z.strictObject({ reachPx: z.number().min(1).max(100) });

/** A merge of the same set-up whose repairs are to be done here, too. */
export const copyOrderSchema = z.strictObject({ from: z.string().min(1) });

/** How many repairs were taken over, and how many are of that picture alone. */
export const copiedSchema = z.strictObject({ taken: z.number().int(), left: z.number().int() });

/** How an operation's masks were changed since it was made (core/repair/changedMask). */
export const operationMaskSchema = z.strictObject({
  growPx: z.number().min(-100).max(100),
  softenPx: z.number().min(0).max(100),
  strength: z.number().gt(0).max(1),
  insideOut: regionSchema.nullable(),
  /** The mask as laid to the edges of the picture. */
  snapped: pictureShapeSchema.nullable(),
});

/** What can be changed of an operation. */
export const operationStateSchema = z.strictObject({
  enabled: z.boolean(),
  /** Place in the order in which they act. */
  order: z.number(),
  /** Given by a person; empty for one that is called by what it does. */
  name: z.string().max(120),
  /** Variant of the repair that it belongs to; empty: to all. */
  variant: z.string().max(40),
  /** Null: its masks are as they were made. */
  mask: operationMaskSchema.nullable(),
});

export const operationSchema = newOperationSchema.extend({
  ...operationStateSchema.shape,
  id: z.string(),
  /** The merge's revision at which it last changed. */
  revision: z.number().int(),
});

/** What somebody asks of the operations of a merge. */
export const operationChangeSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('add'), operation: newOperationSchema }),
  z.strictObject({
    kind: z.literal('patch'),
    operationId: z.string(),
    patch: operationStateSchema
      .partial()
      .refine((patch) => Object.keys(patch).length > 0, 'at least one of enabled, order, name, variant, mask'),
  }),
  z.strictObject({ kind: z.literal('remove'), operationId: z.string() }),
  /** Takes back this person's last change that still stands. */
  z.strictObject({ kind: z.literal('undo') }),
  /** Makes this person's change again that was taken back last. */
  z.strictObject({ kind: z.literal('redo') }),
]);

/**
 * Whoever sends a change names it, so that sending it again after a lost answer changes nothing. An operation that is added takes
 * the name of the change.
 */
export const namedChangeSchema = z.strictObject({ id: z.string().min(8).max(64), change: operationChangeSchema });

/** Operations of a merge that changed after a revision that somebody knows. */
export const operationChangesSchema = z.strictObject({
  revision: z.number().int(),
  changed: z.array(operationSchema),
  /** Ids that are no more. */
  gone: z.array(z.string()),
  /** How many changes the asking person can take back, and make again. */
  undoable: z.number().int(),
  redoable: z.number().int(),
});

export type MaskShapeRecord = z.infer<typeof maskShapeSchema>;
export type OperationPartRecord = z.infer<typeof operationPartSchema>;
export type OperationMaskRecord = z.infer<typeof operationMaskSchema>;
export type PullRecord = z.infer<typeof pullSchema>;
export type CopyOrder = z.infer<typeof copyOrderSchema>;
export type Copied = z.infer<typeof copiedSchema>;
export type HandOrder = z.infer<typeof handOrderSchema>;
/** An order of one kind. */
export type HandOrderOf<K extends HandOrder['kind']> = Extract<HandOrder, { kind: K }>;
export type NewOperation = z.infer<typeof newOperationSchema>;
export type OperationState = z.infer<typeof operationStateSchema>;
export type Operation = z.infer<typeof operationSchema>;
export type OperationChange = z.infer<typeof operationChangeSchema>;
export type NamedChange = z.infer<typeof namedChangeSchema>;
export type OperationChanges = z.infer<typeof operationChangesSchema>;
