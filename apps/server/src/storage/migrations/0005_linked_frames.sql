-- Frames that are merges of other jobs, as they were when taken.
CREATE TABLE linked_frames (
  picture_id TEXT PRIMARY KEY REFERENCES pictures(id) ON DELETE CASCADE,
  source_job_id TEXT NOT NULL,
  merge_id TEXT NOT NULL,
  revision INTEGER NOT NULL
) STRICT;
