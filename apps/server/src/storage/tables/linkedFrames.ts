// Table `linked_frames`: which merge of which job a frame is, as it was when taken.
import type { Db } from '../openDatabase';

export interface LinkedFrameRow {
  readonly picture_id: string;
  readonly source_job_id: string;
  readonly merge_id: string;
  readonly revision: number;
}

export function linkedFramesTable(db: Db) {
  const insert = db.prepare<[LinkedFrameRow]>(
    'INSERT INTO linked_frames (picture_id, source_job_id, merge_id, revision) VALUES (@picture_id, @source_job_id, @merge_id, @revision)',
  );
  const one = db.prepare<[string], LinkedFrameRow>('SELECT * FROM linked_frames WHERE picture_id = ?');
  const sources = db.prepare<[string], { source_job_id: string }>(
    'SELECT DISTINCT source_job_id FROM linked_frames JOIN pictures ON pictures.id = picture_id WHERE job_id = ?',
  );
  const users = db.prepare<[string], { job_id: string }>(
    'SELECT DISTINCT job_id FROM linked_frames JOIN pictures ON pictures.id = picture_id WHERE source_job_id = ?',
  );
  return {
    insert: (row: LinkedFrameRow) => insert.run(row),
    find: (pictureId: string) => one.get(pictureId),
    /** Jobs whose merges are frames of a job. */
    sourcesOf: (jobId: string) => sources.all(jobId).map((r) => r.source_job_id),
    /** Jobs that use a job's merge as a frame. */
    usersOf: (jobId: string) => users.all(jobId).map((r) => r.job_id),
  };
}
