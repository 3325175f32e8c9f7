// What the log counts of jobs, gathered over several tables at once; and of jobs that were removed, as it was then.
import { circumstancesSchema, decisionSchema, defectSchema, kindSchema } from '@blendrak/contract';
import { z } from 'zod';
import type { Db } from '../openDatabase';

const factsSchema = z.strictObject({
  id: z.string(),
  name: z.string(),
  kind: kindSchema,
  createdAt: z.string(),
  frames: z.number().int(),
  camera: z.string().nullable(),
  lens: z.string().nullable(),
  fNumber: z.number().nullable(),
  // Jobs that were removed before they could be said have none.
  support: z.string().default(''),
  place: z.string().default(''),
  light: z.string().default(''),
  findings: z.array(
    z.strictObject({
      defect: defectSchema,
      decision: decisionSchema,
      count: z.number().int(),
      beyondEnd: z.number().int(),
    }),
  ),
});

/** What the log counts of a job that was inspected. */
export type StoredJobFacts = z.infer<typeof factsSchema>;

interface FactsRow {
  readonly id: string;
  readonly name: string;
  readonly kind: string;
  readonly created_at: string;
  readonly merge_id: string;
  readonly frames: number;
  readonly exif: string | null;
  readonly circumstances: string | null;
}

interface CountRow {
  readonly merge_id: string;
  readonly defect: string;
  readonly decision: string;
  readonly count: number;
  readonly beyond: number;
}

const exifPart = z.object({
  camera: z.string().nullable().default(null),
  lens: z.string().nullable().default(null),
  fNumber: z.number().nullable().default(null),
});

// A merge's body is large: whether it was inspected is read off its text.
const JOBS = `
  SELECT j.id, j.name, j.kind, j.created_at, j.circumstances, m.id AS merge_id,
    (SELECT count(*) FROM pictures p WHERE p.job_id = j.id AND p.role = 'frame') AS frames,
    (SELECT json_extract(p.info, '$.exif') FROM pictures p
      WHERE p.job_id = j.id AND p.role = 'frame' AND p.info IS NOT NULL ORDER BY p.position LIMIT 1) AS exif
  FROM jobs j JOIN merges m ON m.id = (
    SELECT id FROM merges WHERE job_id = j.id ORDER BY created_at DESC, rowid DESC LIMIT 1)
  WHERE instr(m.body, '"inspection":{') > 0 AND j.id NOT IN (SELECT job_id FROM exercises)`;

// Focus gaps before the first frame or behind the last one lie beyond the series.
const COUNTS = `
  SELECT f.merge_id, json_extract(f.body, '$.defect') AS defect, f.decision, count(*) AS count,
    sum(json_extract(f.body, '$.defect') = 'focus-gap' AND (
      json_extract(f.body, '$.measurements.frameBefore.value') < 0 OR
      json_extract(f.body, '$.measurements.frameBefore.value') >= json_array_length(f.body, '$.frames') - 1)) AS beyond
  FROM findings f WHERE f.decision <> 'not-a-defect' GROUP BY 1, 2, 3`;

export function jobFactsTable(db: Db) {
  const jobs = db.prepare<[], FactsRow>(JOBS);
  const counts = db.prepare<[], CountRow>(COUNTS);
  const remembered = db.prepare<[], { facts: string }>('SELECT facts FROM remembered_jobs');
  const remember = db.prepare<[string, string]>(
    'INSERT INTO remembered_jobs (job_id, facts) VALUES (?, ?) ON CONFLICT (job_id) DO UPDATE SET facts = excluded.facts',
  );
  const living = (): StoredJobFacts[] => {
    const byMerge = new Map<string, StoredJobFacts['findings']>();
    for (const { merge_id, defect, decision, count, beyond } of counts.all()) {
      const known = byMerge.get(merge_id) ?? [];
      known.push({
        defect: defectSchema.parse(defect),
        decision: decisionSchema.parse(decision),
        count,
        beyondEnd: beyond ?? 0,
      });
      byMerge.set(merge_id, known);
    }
    return jobs.all().map(({ id, name, kind, created_at: createdAt, merge_id, frames, exif, circumstances }) => ({
      ...{ id, name, kind: kindSchema.parse(kind), createdAt, frames },
      ...exifPart.parse(exif === null ? {} : JSON.parse(exif)),
      ...circumstancesSchema.parse(circumstances === null ? {} : JSON.parse(circumstances)),
      findings: byMerge.get(merge_id) ?? [],
    }));
  };
  return {
    /** Of all jobs that were inspected, those that were removed since included. */
    all: (): StoredJobFacts[] => [
      ...living(),
      ...remembered.all().map(({ facts }) => factsSchema.parse(JSON.parse(facts))),
    ],
    /** Keeps what is counted of a job that is about to be removed; nothing of one that was never inspected. */
    remember(jobId: string) {
      const facts = living().find((f) => f.id === jobId);
      if (facts) remember.run(jobId, JSON.stringify(facts));
    },
  };
}
