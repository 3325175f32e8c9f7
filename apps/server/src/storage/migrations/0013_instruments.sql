-- What people measure and look at by themselves: segments with their readings, and what of a merge was looked at at full size.
CREATE TABLE pins (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  body TEXT NOT NULL,
  UNIQUE (merge_id, number)
) STRICT;

CREATE TABLE sweeps (
  merge_id TEXT PRIMARY KEY REFERENCES merges(id) ON DELETE CASCADE,
  -- A byte per square of the picture: quarters of a second.
  seen BLOB NOT NULL
) STRICT;

-- How the picture will be looked at, as JSON; null for a screen at full size.
ALTER TABLE jobs ADD COLUMN viewing TEXT;

-- Numbers of pins are not given twice, also when the last one was removed.
ALTER TABLE merges ADD COLUMN last_pin INTEGER NOT NULL DEFAULT 0;
