// Table `finishes`: how merges are cut for delivery, what was waived, who signed.
import { cutSchema, obstacleKindSchema, signatureSchema, waiverSchema } from '@blendrak/contract';
import { z } from 'zod';
import type { Db } from '../openDatabase';

const tiltSchema = z.strictObject({ turnDeg: z.number(), edges: z.number().int(), share: z.number() });

const bodySchema = z.strictObject({
  cut: cutSchema,
  waivers: z.array(waiverSchema.extend({ kind: obstacleKindSchema, covers: z.string() })),
  signature: signatureSchema.nullable(),
  /** What the straight edges of the merge say; left out while nobody looked for them. */
  tilt: tiltSchema.nullable().optional(),
});

export type FinishBody = z.infer<typeof bodySchema>;

const UNTOUCHED: FinishBody = { cut: { turnDeg: 0, crop: null }, waivers: [], signature: null };

export function finishesTable(db: Db) {
  const find = db.prepare<[string], { body: string }>('SELECT body FROM finishes WHERE merge_id = ?');
  const keep = db.prepare<[string, string]>(
    'INSERT INTO finishes (merge_id, body) VALUES (?, ?) ON CONFLICT (merge_id) DO UPDATE SET body = excluded.body',
  );
  return {
    find(mergeId: string): FinishBody {
      const row = find.get(mergeId);
      return row ? bodySchema.parse(JSON.parse(row.body)) : UNTOUCHED;
    },
    keep: (mergeId: string, body: FinishBody) => keep.run(mergeId, JSON.stringify(body)),
  };
}
