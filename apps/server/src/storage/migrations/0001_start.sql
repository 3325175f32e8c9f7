-- Jobs, their pictures, merges with findings and strokes, and long work.
CREATE TABLE jobs (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  kind TEXT NOT NULL DEFAULT 'focus-stack',
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE pictures (
  id TEXT PRIMARY KEY,
  job_id TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  role TEXT NOT NULL CHECK (role IN ('frame', 'merge')),
  position INTEGER NOT NULL,
  file_name TEXT NOT NULL,
  source_path TEXT NOT NULL,
  size_bytes INTEGER NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('waiting', 'ready', 'failed')),
  error TEXT,
  info TEXT
) STRICT;
CREATE INDEX pictures_by_job ON pictures(job_id, role, position);

CREATE TABLE merges (
  id TEXT PRIMARY KEY,
  job_id TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  origin TEXT NOT NULL CHECK (origin IN ('own', 'imported')),
  picture_id TEXT REFERENCES pictures(id) ON DELETE CASCADE,
  body TEXT NOT NULL,
  revision INTEGER NOT NULL DEFAULT 0,
  created_at TEXT NOT NULL
) STRICT;
CREATE INDEX merges_by_job ON merges(job_id, created_at);

CREATE TABLE findings (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  seq INTEGER NOT NULL,
  body TEXT NOT NULL,
  decision TEXT NOT NULL DEFAULT 'open',
  reason TEXT NOT NULL DEFAULT '',
  recheck TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX findings_by_merge ON findings(merge_id, seq);

CREATE TABLE strokes (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  seq INTEGER NOT NULL,
  body TEXT NOT NULL,
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX strokes_by_merge ON strokes(merge_id, seq);

CREATE TABLE work (
  id TEXT PRIMARY KEY,
  job_id TEXT NOT NULL REFERENCES jobs(id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  payload TEXT NOT NULL,
  status TEXT NOT NULL CHECK (status IN ('queued', 'running', 'done', 'failed', 'cancelled')),
  progress REAL NOT NULL DEFAULT 0,
  message TEXT NOT NULL DEFAULT '',
  error TEXT,
  seq INTEGER NOT NULL
) STRICT;
CREATE INDEX work_by_status ON work(status, seq);
