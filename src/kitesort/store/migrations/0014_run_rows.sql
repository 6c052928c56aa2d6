-- Some runs tell a table, row by row.
ALTER TABLE run ADD COLUMN rows jsonb NOT NULL DEFAULT '[]';
