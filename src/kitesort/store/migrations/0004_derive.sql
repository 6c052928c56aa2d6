-- Derived layers: previews that are not in the study yet, and what is saved for reuse.
-- A scene with a draft key is a preview; the key names its recipe, so that it is made once.
ALTER TABLE scene ADD COLUMN draft_key text;
CREATE UNIQUE INDEX scene_draft ON scene (study_id, draft_key) WHERE draft_key IS NOT NULL;

CREATE TABLE preset (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    kind text NOT NULL,
    name text NOT NULL,
    content jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (study_id, kind, name)
);
