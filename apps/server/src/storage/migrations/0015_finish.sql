-- Merges on the way out: how they are cut, what was waived, and who signed.
CREATE TABLE finishes (
  merge_id TEXT PRIMARY KEY REFERENCES merges(id) ON DELETE CASCADE,
  -- Cut, waivers and signature as JSON.
  body TEXT NOT NULL
) STRICT;

-- What was done on jobs. It outlives them: they are named, not referred to.
CREATE TABLE journal (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  job_id TEXT NOT NULL,
  job_name TEXT NOT NULL,
  at TEXT NOT NULL,
  kind TEXT NOT NULL,
  words TEXT NOT NULL,
  took_s REAL
) STRICT;
CREATE INDEX journal_by_job ON journal(job_id);

-- What people decided about lessons, by the lesson's name.
CREATE TABLE lesson_choices (
  lesson_id TEXT PRIMARY KEY,
  state TEXT NOT NULL CHECK (state IN ('taken', 'refused'))
) STRICT;
