// The truth file: what the simulated camera knows about a merge whose defects it seeded (docs/formats.md).
import { z } from 'zod';
import { defectSchema } from './report';

/** Runs of cells, row by row: start and length. */
const runsSchema = z.array(z.tuple([z.number().int(), z.number().int()]));

const momentSchema = z.strictObject({
  frame: z.string(),
  file: z.string(),
  region: z.strictObject({
    x: z.number().int(),
    y: z.number().int(),
    width: z.number().int(),
    height: z.number().int(),
  }),
  runs: runsSchema,
});

export const truthFaultSchema = z.strictObject({
  defect: defectSchema,
  runs: runsSchema,
  shown: z.array(z.string()),
  donors: z.array(z.string()),
  donorOptional: z.boolean(),
  repairable: z.boolean(),
  plain: z.boolean(),
  meanRms: z.number(),
  natural: z.boolean(),
  /** What may stand there as well: pictures of parts of the merge beside it, of other moments. */
  moments: z.array(momentSchema).default([]),
});

export const truthSchema = z.strictObject({
  format: z.literal('blendrak-truth'),
  version: z.literal(1),
  merge: z.strictObject({ file: z.string(), width: z.number().int(), height: z.number().int() }),
  cellPx: z.number().int(),
  faults: z.array(truthFaultSchema),
  unavoidable: runsSchema,
  faint: runsSchema,
});

export type Truth = z.infer<typeof truthSchema>;
export type TruthFault = z.infer<typeof truthFaultSchema>;
