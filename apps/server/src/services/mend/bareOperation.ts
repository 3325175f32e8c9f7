// What an operation does, without what it is called, when it acts and how its masks were changed since.
import { newOperationSchema, type NewOperation } from '@blendrak/contract';
import type { Operation } from '@blendrak/core/repair';

/** An operation as it is asked for anew. */
export function bareOperation({ donor, shape, shift, tone, pull, also }: Operation): NewOperation {
  return newOperationSchema.parse({ kind: 'paint', donor, shape, shift, tone, pull, also });
}
