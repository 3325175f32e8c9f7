-- What became of the repairs of the merge before, as JSON; null where there were none.
ALTER TABLE merges ADD COLUMN carried TEXT;
