// Who asks, and what they know already.
import type { Request } from 'express';
import { z } from 'zod';
import type { Asker } from '../services/mend/operations';

const sinceSchema = z.coerce.number().int().min(-1).default(-1);

/** The revision that a page knows. */
export function sinceOf({ query }: Request): number {
  return sinceSchema.parse(query['since']);
}

const nameSchema = z.string().max(64).optional();

/** The names that a person's browser and its page give themselves. */
export function askerOf(request: Request): Asker {
  return {
    person: nameSchema.parse(request.get('X-Blendrak-Person')) ?? '',
    page: nameSchema.parse(request.get('X-Blendrak-Page')),
  };
}
