-- What a kept map tells of itself (words, legend, grid, what it was trained on), so that maps are
-- listed without reading their recipes, which hold every site, nor their files. Rows from before
-- are told when they are first listed.
ALTER TABLE layer ADD COLUMN told jsonb;
