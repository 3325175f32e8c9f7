-- Work may pause, files to be removed are named first, and strokes say when they last changed.
CREATE TABLE leavings (
  path TEXT PRIMARY KEY
) STRICT;

-- Order in which strokes were undone instead of a mark: 0 is in force, -1 was brought back under another name.
ALTER TABLE strokes ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
UPDATE strokes SET revision = (SELECT revision FROM merges WHERE merges.id = strokes.merge_id);
UPDATE strokes SET undone = 1 + (
  SELECT count(*) FROM strokes later WHERE later.merge_id = strokes.merge_id AND later.undone = 1 AND later.seq > strokes.seq
) WHERE undone = 1;

CREATE TABLE work_next (
  id TEXT PRIMARY KEY,
  job_id TEXT REFERENCES jobs(id) ON DELETE CASCADE,
  card_id TEXT REFERENCES cards(id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  payload TEXT NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('queued', 'running', 'paused', 'done', 'failed', 'cancelled')),
  progress REAL NOT NULL DEFAULT 0,
  message TEXT NOT NULL DEFAULT '',
  error TEXT,
  seq INTEGER NOT NULL,
  CHECK ((job_id IS NULL) <> (card_id IS NULL))
) STRICT;
INSERT INTO work_next SELECT id, job_id, card_id, kind, payload, status, progress, message, error, seq FROM work;
DROP TABLE work;
ALTER TABLE work_next RENAME TO work;
CREATE INDEX work_by_status ON work(status, seq);
CREATE INDEX work_by_job ON work(job_id, seq);
CREATE INDEX work_by_card ON work(card_id, seq);
