// Table `sources`: other merges of the same set that people paint with. Operations name them by number: none ever goes or moves.
import { z } from 'zod';
import { mergeFrameSchema, sourceMethodSchema } from '@blendrak/contract';
import type { Db } from '../openDatabase';
import { contrastSchema } from './merges';

const bodySchema = z.strictObject({
  name: z.string(),
  noise: z.array(z.number()),
  /** What brings it to the tone of the merge that it lies on. */
  ...mergeFrameSchema.pick({ tone: true, grey: true, mix: true }).shape,
  contrast: contrastSchema.nullable(),
});
export type SourceBody = z.infer<typeof bodySchema>;

interface SourceRow {
  readonly id: string;
  readonly merge_id: string;
  readonly method: string;
  readonly body: string;
}

function toSource({ id, merge_id: mergeId, method, body }: SourceRow) {
  return { id, mergeId, method: sourceMethodSchema.parse(method), ...bodySchema.parse(JSON.parse(body)) };
}
export type StoredSource = ReturnType<typeof toSource>;

export function sourcesTable(db: Db) {
  const insert = db.prepare<[string, string, string, string, string]>(
    `INSERT INTO sources (id, merge_id, place, method, body)
     VALUES (?, ?, (SELECT count(*) FROM sources WHERE merge_id = ?), ?, ?)`,
  );
  const byMerge = db.prepare<[string], SourceRow>('SELECT * FROM sources WHERE merge_id = ? ORDER BY place');
  const ofJob = db.prepare<[string], { id: string }>(
    'SELECT s.id FROM sources s JOIN merges m ON m.id = s.merge_id WHERE m.job_id = ?',
  );
  const all = db.prepare<[], { id: string }>('SELECT id FROM sources');
  return {
    /** Adds a source after those that are there. */
    append: ({ id, mergeId, method, ...body }: StoredSource) =>
      insert.run(id, mergeId, mergeId, method, JSON.stringify(body)),
    /** In the order of their numbers. */
    listByMerge: (mergeId: string): StoredSource[] => byMerge.all(mergeId).map(toSource),
    idsOf: (jobId: string): string[] => ofJob.all(jobId).map((row) => row.id),
    ids: (): string[] => all.all().map((row) => row.id),
  };
}
