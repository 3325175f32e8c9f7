-- Time that people spent on jobs, by stage of the work and by the defect they were looking at. It outlives the jobs.
CREATE TABLE time_spent (
  job_id TEXT NOT NULL,
  stage TEXT NOT NULL,
  -- '' where no finding was open.
  defect TEXT NOT NULL,
  seconds REAL NOT NULL,
  PRIMARY KEY (job_id, stage, defect)
) STRICT;
