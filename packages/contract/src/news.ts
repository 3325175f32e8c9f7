// News for open pages: what changed on the server, by topic.
import { z } from 'zod';
import { workSchema } from './job';

/** A job or its pictures; progress of work on a job or card; findings, operations, proposals, sources, pins or finishing of a merge; a card. */
export const topicSchema = z.enum([
  'job',
  'work',
  'findings',
  'operations',
  'proposals',
  'sources',
  'pins',
  'finish',
  'card',
]);

export const newsSchema = z.strictObject({
  /** Counts up; whoever knows one can ask for those after it. */
  seq: z.number().int(),
  topic: topicSchema,
  /** Of the job or the card. */
  id: z.string(),
  /** How work stands, so that nobody has to ask. */
  work: workSchema.optional(),
  /** Of all that is about a merge. */
  mergeId: z.string().optional(),
  /** What somebody did, for those who look at the same merge. */
  what: z.string().optional(),
  /** Page that did it, by the name it gave itself. */
  by: z.string().optional(),
});

/** Answer to a page that asks now and then instead of listening. */
export const newsPageSchema = z.strictObject({
  seq: z.number().int(),
  /** Null when so much has happened since that everything may have changed. */
  news: z.array(newsSchema).nullable(),
});

export type News = z.infer<typeof newsSchema>;
export type NewsPage = z.infer<typeof newsPageSchema>;
