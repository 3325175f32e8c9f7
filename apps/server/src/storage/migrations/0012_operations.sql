-- Operations instead of strokes: records that can be switched, named and moved, with a log of changes from which undo comes.
CREATE TABLE operations (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  body TEXT NOT NULL,
  position REAL NOT NULL,
  -- 0: taken back or removed; it can come back.
  live INTEGER NOT NULL DEFAULT 1,
  enabled INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL DEFAULT '',
  variant TEXT NOT NULL DEFAULT '',
  revision INTEGER NOT NULL
) STRICT;
CREATE INDEX operations_by_merge ON operations(merge_id, revision);

CREATE TABLE operation_changes (
  id TEXT PRIMARY KEY,
  merge_id TEXT NOT NULL REFERENCES merges(id) ON DELETE CASCADE,
  seq INTEGER NOT NULL,
  -- Who made it; empty for what was painted before persons were told apart: anybody may take it back.
  person TEXT NOT NULL,
  -- What was asked for, without the operation that an "add" adds, so that the same again is known.
  asked TEXT NOT NULL,
  -- Operation that it changes, and what of it before and after; null for undo and redo.
  operation_id TEXT,
  before TEXT,
  after TEXT,
  -- 0 while it stands; above, the order in which changes were taken back.
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX operation_changes_by_merge ON operation_changes(merge_id, seq);

-- What came back under another name (undone = -1) stands under that.
INSERT INTO operations (id, merge_id, body, position, live, revision)
SELECT id, merge_id, json_object('kind', 'paint', 'donor', json_extract(body, '$.frame'), 'shape', json_object(
    'kind', 'stroke', 'points', json(json_extract(body, '$.points')), 'sizePx', json_extract(body, '$.sizePx'),
    'hardness', json_extract(body, '$.hardness'), 'strength', json_extract(body, '$.strength'))),
  seq, undone = 0, revision
FROM strokes WHERE undone >= 0;

INSERT INTO operation_changes (id, merge_id, seq, person, asked, operation_id, before, after, undone)
SELECT s.id, s.merge_id, s.seq, '', '{"kind":"add"}', s.id, '{"live":false}', '{"live":true}', s.undone
FROM strokes s JOIN operations o ON o.id = s.id;

DROP TABLE strokes;

-- Findings say when they last changed.
ALTER TABLE findings ADD COLUMN revision INTEGER NOT NULL DEFAULT 0;
ALTER TABLE merges ADD COLUMN findings_revision INTEGER NOT NULL DEFAULT 0;
