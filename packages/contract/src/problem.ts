// Errors as they cross the border (RFC 9457 problem details).
import { z } from 'zod';

export const problemSchema = z.strictObject({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
});

export type Problem = z.infer<typeof problemSchema>;
