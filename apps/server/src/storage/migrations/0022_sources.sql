-- Other merges of the same set to paint with: each has the number after those of the frames and of the sources before it.
CREATE TABLE sources (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  place INTEGER NOT NULL,
  method TEXT NOT NULL,
  body TEXT NOT NULL,
  UNIQUE (merge_id, place),
  UNIQUE (merge_id, method)
) STRICT;
