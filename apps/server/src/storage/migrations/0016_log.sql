-- Jobs that were removed, as the log counts them.
CREATE TABLE remembered_jobs (
  job_id TEXT PRIMARY KEY,
  -- JobFacts as JSON.
  facts TEXT NOT NULL
) STRICT;
