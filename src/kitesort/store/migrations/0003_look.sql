-- What is remembered while looking: notes pinned to places, and counts of whole feature spaces.
CREATE TABLE note (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    x double precision NOT NULL,
    y double precision NOT NULL,
    text text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX note_study ON note (study_id, id);

CREATE TABLE density (
    id serial PRIMARY KEY,
    key text NOT NULL UNIQUE,
    found jsonb NOT NULL
);
