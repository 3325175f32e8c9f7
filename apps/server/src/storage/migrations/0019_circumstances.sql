-- How a job was shot, as people say it: on what, where, in what light. JSON; null while nobody has said.
ALTER TABLE jobs ADD COLUMN circumstances TEXT;
