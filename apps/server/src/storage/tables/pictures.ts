// Table `pictures`: frames and imported merges.
import { z } from 'zod';
import { exifSchema, type Picture } from '@blendrak/contract';
import type { Db } from '../openDatabase';

/** What intake found out; stored as JSON. */
const infoSchema = z.strictObject({
  width: z.number(),
  height: z.number(),
  bits: z.union([z.literal(8), z.literal(16)]),
  profile: z.string().nullable(),
  exif: exifSchema.nullable(),
  noise: z.array(z.number()),
});
export type PictureInfoRecord = z.infer<typeof infoSchema>;

export interface PictureRow {
  readonly id: string;
  readonly job_id: string;
  readonly role: 'frame' | 'merge';
  readonly position: number;
  readonly file_name: string;
  readonly source_path: string;
  readonly size_bytes: number;
  readonly status: Picture['status'];
  readonly error: string | null;
  readonly info: string | null;
}

export function pictureInfo(row: PictureRow): PictureInfoRecord | null {
  return row.info === null ? null : infoSchema.parse(JSON.parse(row.info));
}

export function picturesTable(db: Db) {
  const insert = db.prepare<[PictureRow]>(
    `INSERT INTO pictures (id, job_id, role, position, file_name, source_path, size_bytes, status, error, info)
     VALUES (@id, @job_id, @role, @position, @file_name, @source_path, @size_bytes, @status, @error, @info)`,
  );
  const one = db.prepare<[string], PictureRow>('SELECT * FROM pictures WHERE id = ?');
  const byJob = db.prepare<[string], PictureRow>(
    'SELECT * FROM pictures WHERE job_id = ? ORDER BY role, position, rowid',
  );
  const ids = db.prepare<[], { id: string }>('SELECT id FROM pictures');
  const ready = db.prepare<[string, string]>(
    "UPDATE pictures SET status = 'ready', error = NULL, info = ? WHERE id = ?",
  );
  const failed = db.prepare<[string, string]>("UPDATE pictures SET status = 'failed', error = ? WHERE id = ?");
  const place = db.prepare<[number, string]>('UPDATE pictures SET position = ? WHERE id = ?');
  const remove = db.prepare<[string]>('DELETE FROM pictures WHERE id = ?');
  return {
    insert: (row: PictureRow) => insert.run(row),
    find: (id: string) => one.get(id),
    listByJob: (jobId: string) => byJob.all(jobId),
    ids: () => ids.all().map((r) => r.id),
    markReady: (id: string, info: PictureInfoRecord) => ready.run(JSON.stringify(info), id),
    markFailed: (id: string, error: string) => failed.run(error, id),
    setPosition: (id: string, position: number) => place.run(position, id),
    remove: (id: string) => remove.run(id),
  };
}
