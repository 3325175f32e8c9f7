-- Jobs that are exercises; they stand in no list of jobs.
CREATE TABLE exercises (
  job_id TEXT PRIMARY KEY REFERENCES jobs(id) ON DELETE CASCADE,
  -- What was ordered, as JSON.
  ordered TEXT NOT NULL
) STRICT;

-- What came of exercises. It outlives them: progress is counted from it.
CREATE TABLE solutions (
  job_id TEXT PRIMARY KEY,
  at TEXT NOT NULL,
  -- Places of the picture without a defect, for counting false alarms.
  noises INTEGER NOT NULL,
  body TEXT NOT NULL
) STRICT;
