// Table `merges`.
import { z } from 'zod';
import {
  alignmentOptionsSchema,
  bracketFactsSchema,
  lookMapSchema,
  carrySchema,
  mergeFrameSchema,
  mergeOptionsSchema,
  panoramaFactsSchema,
  stackFactsSchema,
  type Carry,
} from '@blendrak/contract';
import type { Db } from '../openDatabase';

const camerasSchema = z.strictObject({
  rotations: z.array(z.array(z.number()).length(9)),
  focalPx: z.array(z.number()),
  distortion: z.tuple([z.number(), z.number()]),
  down: z.tuple([z.number(), z.number(), z.number()]),
  uprightSupport: z.number(),
  pairs: z.array(z.tuple([z.number(), z.number()])),
  /** Straight lines per frame: x, y, x, y. */
  lines: z.array(z.array(z.tuple([z.number(), z.number(), z.number(), z.number()]))).default([]),
});

const curveSchema = z.array(z.number());

/** Local contrast that a merge was given. */
export const contrastSchema = z.strictObject({
  amount: z.number(),
  radiusPx: z.number(),
  columns: z.number(),
  rows: z.number(),
  nodePx: z.number(),
  values: z.array(z.number()),
});

const bodySchema = z.strictObject({
  fileName: z.string(),
  width: z.number(),
  height: z.number(),
  bits: z.union([z.literal(8), z.literal(16)]),
  reference: z.number(),
  noise: z.array(z.number()),
  /** What an inspection knows of the merge, so that places can be looked at again; null where nobody looked. */
  inspection: z
    .strictObject({
      /** What was found in the frames by themselves, and the picture's own yardsticks, by layer of evidence. */
      surveys: z.record(z.string(), z.unknown()),
      /** The px that it was inspected in. */
      working: z.strictObject({ unitPx: z.number(), noiseShare: z.number() }).default({ unitPx: 1, noiseShare: 1 }),
      /** What of the merge is picture, in those px; null for all of it. */
      inside: z
        .strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() })
        .nullable()
        .default(null),
      /** What the merge has of grain of its own. */
      grain: z
        .strictObject({ pixel: curveSchema, bands: z.tuple([curveSchema, curveSchema, curveSchema]) })
        .nullable()
        .default(null),
      yardsticks: z.record(z.string(), z.unknown()),
    })
    .nullable(),
  /** Maps that people look at, in the order in which they lie behind the label maps. */
  maps: z.array(lookMapSchema).default([]),
  frames: z.array(mergeFrameSchema),
  /** Local contrast that it was given when it was finished elsewhere. */
  contrast: contrastSchema.nullable().default(null),
  options: mergeOptionsSchema.prefault({}),
  facts: z.discriminatedUnion('kind', [
    stackFactsSchema,
    // The cameras, so that it can be merged in another way without being aligned again; null for one made elsewhere.
    panoramaFactsSchema.extend({ cameras: camerasSchema.nullable() }),
    bracketFactsSchema,
  ]),
  /** Reference asked for when the frames were aligned. */
  wantedReference: z.string().default('auto'),
  alignment: alignmentOptionsSchema.prefault({}),
  /** Tile file of the merge: its own id, or the imported picture's. */
  tilesId: z.string(),
});
export type MergeBody = z.infer<typeof bodySchema>;
export type PanoramaCameras = z.infer<typeof camerasSchema>;

export interface MergeRow {
  readonly id: string;
  readonly job_id: string;
  readonly origin: 'own' | 'imported';
  readonly picture_id: string | null;
  readonly body: string;
  readonly revision: number;
  readonly created_at: string;
}

/** What is known of a merge without reading what it is made of. */
export interface MergeHead {
  readonly id: string;
  readonly revision: number;
  readonly file: string;
  readonly width: number;
  readonly height: number;
}

export function mergeBody(row: MergeRow): MergeBody {
  return bodySchema.parse(JSON.parse(row.body));
}

export function mergesTable(db: Db) {
  const insert = db.prepare<[MergeRow]>(
    `INSERT INTO merges (id, job_id, origin, picture_id, body, revision, created_at)
     VALUES (@id, @job_id, @origin, @picture_id, @body, @revision, @created_at)`,
  );
  const one = db.prepare<[string], MergeRow>('SELECT * FROM merges WHERE id = ?');
  const ids = db.prepare<[], { id: string }>('SELECT id FROM merges');
  const bump = db.prepare<[string], { revision: number }>(
    'UPDATE merges SET revision = revision + 1 WHERE id = ? RETURNING revision',
  );
  const head = db.prepare<[string], MergeHead>(
    `SELECT id, revision, json_extract(body, '$.fileName') AS file, json_extract(body, '$.width') AS width,
       json_extract(body, '$.height') AS height FROM merges
     WHERE job_id = ? ORDER BY created_at DESC, rowid DESC LIMIT 1`,
  );
  const idsOf = db.prepare<[string], { id: string }>('SELECT id FROM merges WHERE job_id = ?');
  const bumpFindings = db.prepare<[string], { revision: number }>(
    'UPDATE merges SET findings_revision = findings_revision + 1 WHERE id = ? RETURNING findings_revision AS revision',
  );
  const findingsRevision = db.prepare<[string], { revision: number }>(
    'SELECT findings_revision AS revision FROM merges WHERE id = ?',
  );
  const setCarried = db.prepare<[string, string]>('UPDATE merges SET carried = ? WHERE id = ?');
  const carried = db.prepare<[string], { carried: string | null }>('SELECT carried FROM merges WHERE id = ?');
  const revision = db.prepare<[string], { revision: number }>('SELECT revision FROM merges WHERE id = ?');
  return {
    insert: (row: MergeRow) => insert.run(row),
    find: (id: string) => one.get(id),
    /** A job's newest merge, without reading what it is made of. */
    headOf: (jobId: string) => head.get(jobId),
    idsOf: (jobId: string) => idsOf.all(jobId).map((r) => r.id),
    ids: () => ids.all().map((r) => r.id),
    /** Notes what became of the repairs of the merge before. */
    setCarried: (id: string, carry: Carry) => setCarried.run(JSON.stringify(carry), id),
    carriedOf: (id: string): Carry | null => {
      const text = carried.get(id)?.carried;
      return text ? carrySchema.parse(JSON.parse(text)) : null;
    },
    revisionOf: (id: string) => revision.get(id)?.revision,
    /** Counts a change of the repaired picture; returns the new revision. */
    bumpRevision: (id: string) => bump.get(id)!.revision,
    findingsRevisionOf: (id: string) => findingsRevision.get(id)?.revision,
    /** Counts a change of the findings; returns the new revision. */
    bumpFindings: (id: string) => bumpFindings.get(id)!.revision,
  };
}
