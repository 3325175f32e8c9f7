-- Whether nobody has said yet what kind of set a job's frames are: then it is told from them when they are processed.
ALTER TABLE jobs ADD COLUMN is_kind_open INTEGER NOT NULL DEFAULT 0;
