-- Trained classifiers, kept to be used again: a name, where they come from, and a file.
CREATE TABLE classifier (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    name text NOT NULL,
    told jsonb NOT NULL,
    path text NOT NULL,
    removed boolean NOT NULL DEFAULT false,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX classifier_of_study ON classifier (study_id);
