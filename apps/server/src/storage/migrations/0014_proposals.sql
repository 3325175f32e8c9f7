-- Repairs worked out by the application, the last one of each finding.
CREATE TABLE proposals (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  finding_id TEXT NOT NULL UNIQUE REFERENCES findings(id) ON DELETE CASCADE,
  -- Work that tried it: taken up again after a kill, it goes on where it was.
  work_id TEXT NOT NULL,
  body TEXT NOT NULL,
  refused INTEGER NOT NULL DEFAULT 0,
  -- Operation that it became when it was kept last.
  operation_id TEXT REFERENCES operations(id) ON DELETE SET NULL
) STRICT;
CREATE INDEX proposals_by_merge ON proposals (merge_id);
