// Who asks, and what they know already.
import type { Request } from 'express';
import { z } from 'zod';
import { namedChangeSchema } from '@blendrak/contract';
import type { Asker } from '../services/mend/operations';

const sinceSchema = z.coerce.number().int().min(-1).default(-1);

/** The revision that a page knows. */
export function sinceOf({ query }: Request): number {
  return sinceSchema.parse(query['since']);
}

const changeIdSchema = namedChangeSchema.shape.id.optional();

/** The name that a page gave a change which the server works out, so that it may send it again; undefined where it gave none. */
export function changeIdOf({ query }: Request): string | undefined {
  return changeIdSchema.parse(query['id']);
}

const nameSchema = z.string().max(64).optional();

/** The names that a person's browser and its page give themselves. */
export function askerOf(request: Request): Asker {
  return {
    person: nameSchema.parse(request.get('X-Blendrak-Person')) ?? '',
    page: nameSchema.parse(request.get('X-Blendrak-Page')),
  };
}
