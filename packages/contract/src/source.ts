// Another merge of the same set, made where the merge in question has its frames, to paint with.
import { z } from 'zod';
import type { Merge } from './merge';
import type { MergeKind } from './report';

export const sourceMethodSchema = z.enum(['labels', 'reference', 'bands', 'seams', 'fusion', 'light']);

/** Ways in which each kind can be merged once more without anything being drawn, the usual one first. */
export const SOURCE_METHODS = {
  'focus-stack': ['labels', 'bands', 'reference'],
  panorama: ['seams'],
  bracket: ['fusion', 'light'],
} as const satisfies Record<MergeKind, readonly z.infer<typeof sourceMethodSchema>[]>;

/** What tells how a merge was made. */
interface HowMade extends Pick<Merge, 'origin' | 'kind'> {
  readonly options: Pick<Merge['options'], 'stackMethod' | 'method'>;
}

/** Ways in which another merge of the set would differ from this one. */
export function otherMethods({ origin, kind, options }: HowMade): SourceMethod[] {
  const made = { 'focus-stack': options.stackMethod, panorama: 'seams', bracket: options.method }[kind];
  return SOURCE_METHODS[kind].filter((method) => origin === 'imported' || method !== made);
}

export const sourceOrderSchema = z.strictObject({ method: sourceMethodSchema });

/** A source is painted with by a number, as frames are: theirs come first, then those of the sources in their order. */
export const mergeSourceSchema = z.strictObject({ id: z.string(), method: sourceMethodSchema, name: z.string() });

export type SourceMethod = z.infer<typeof sourceMethodSchema>;
export type SourceOrder = z.infer<typeof sourceOrderSchema>;
export type MergeSource = z.infer<typeof mergeSourceSchema>;
