-- Plans, the plan a job was shot by (as it was then), and the user's cameras and lenses.
CREATE TABLE plans (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  sheet TEXT NOT NULL,
  created_at TEXT NOT NULL,
  changed_at TEXT NOT NULL
) STRICT;

CREATE TABLE job_plans (
  job_id TEXT PRIMARY KEY REFERENCES jobs(id) ON DELETE CASCADE,
  plan_id TEXT NOT NULL,
  name TEXT NOT NULL,
  sheet TEXT NOT NULL
) STRICT;

CREATE TABLE kit (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  body TEXT NOT NULL
) STRICT;
