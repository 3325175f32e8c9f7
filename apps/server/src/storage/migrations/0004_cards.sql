-- Cards to be sorted, with their files; work may belong to a card instead of a job.
CREATE TABLE cards (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  sorting TEXT,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE card_files (
  id TEXT PRIMARY KEY,
  card_id TEXT NOT NULL REFERENCES cards(id) ON DELETE CASCADE,
  file_name TEXT NOT NULL,
  source_path TEXT NOT NULL,
  size_bytes INTEGER NOT NULL,
  digest TEXT,
  exif TEXT,
  error TEXT
) STRICT;
CREATE INDEX card_files_by_card ON card_files(card_id);

CREATE TABLE work_next (
  id TEXT PRIMARY KEY,
  job_id TEXT REFERENCES jobs(id) ON DELETE CASCADE,
  card_id TEXT REFERENCES cards(id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  payload TEXT NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('queued', 'running', 'done', 'failed', 'cancelled')),
  progress REAL NOT NULL DEFAULT 0,
  message TEXT NOT NULL DEFAULT '',
  error TEXT,
  seq INTEGER NOT NULL,
  CHECK ((job_id IS NULL) <> (card_id IS NULL))
) STRICT;
INSERT INTO work_next (id, job_id, kind, payload, status, progress, message, error, seq)
SELECT id, job_id, kind, payload, status, progress, message, error, seq FROM work;
DROP TABLE work;
ALTER TABLE work_next RENAME TO work;
CREATE INDEX work_by_status ON work(status, seq);
