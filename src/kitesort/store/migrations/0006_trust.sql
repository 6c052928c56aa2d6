-- What a study is shown and drawn in, from when that is first known: it does not hang on the files
-- of its first scene.
ALTER TABLE study ADD COLUMN crs text;
