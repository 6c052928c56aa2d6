-- A run's task without its training sites: what lists and progress read. NULL in older rows.
ALTER TABLE run ADD COLUMN brief jsonb;
