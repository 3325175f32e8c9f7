-- How an operation's masks were changed since it was made, as JSON; null: not at all.
ALTER TABLE operations ADD COLUMN mask TEXT;
