// Repairs that the application worked out by itself: rendered and inspected before anybody is asked to keep them.
import { z } from 'zod';
import { newOperationSchema } from './operation';
import { defectSchema, type DefectWord } from './report';

export const proposalSchema = z.strictObject({
  id: z.string(),
  mergeId: z.string(),
  findingId: z.string(),
  /** Null where nothing that was tried helps. */
  operation: newOperationSchema.nullable(),
  /** Share of the finding that stays, 0..1; so little that it counts as closed where `closes`. */
  rest: z.number().min(0).max(1),
  closes: z.boolean(),
  /** What the repairs that were tried would plant, where none is proposed for that. */
  plants: defectSchema.nullable(),
  /** Revision of the merge's operations at which it was tried. */
  revision: z.number().int(),
  state: z.enum(['waiting', 'kept', 'refused']),
});

/** What decides that. */
interface MendableFacts {
  readonly defect: DefectWord;
  readonly repairable: boolean;
  /** Index or name of the frame to repair from. */
  readonly donor: number | string | null;
}

/** Whether a repair of a finding can be worked out: from frames, or of a speck from around it. */
export function isMendable({ defect, repairable, donor }: MendableFacts): boolean {
  return (repairable && donor !== null) || defect === 'dust';
}

/** What is to be worked out: repairs of open findings at least so visible, or of one. */
export const mendOrderSchema = z.union([
  z.strictObject({
    over: z.number().min(0).max(100),
    /** What closes is kept without being looked at. */
    keep: z.boolean().default(false),
  }),
  z.strictObject({ findingId: z.string() }),
]);

/** What becomes of proposals. */
export const proposalChoiceSchema = z.strictObject({
  keep: z.array(z.string()).max(10_000).default([]),
  refuse: z.array(z.string()).max(10_000).default([]),
});

export type Proposal = z.infer<typeof proposalSchema>;
export type MendOrder = z.infer<typeof mendOrderSchema>;
/** The same as a client sends it. */
export type MendInput = z.input<typeof mendOrderSchema>;
export type ProposalChoice = z.infer<typeof proposalChoiceSchema>;
