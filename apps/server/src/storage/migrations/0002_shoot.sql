-- The camera's work is called `shoot` now and asks for other things: what was queued under the old name is given up.
UPDATE work
SET kind = 'shoot', status = CASE WHEN status IN ('queued', 'running') THEN 'cancelled' ELSE status END
WHERE kind = 'demo';
