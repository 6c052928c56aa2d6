CREATE TABLE study (
    id serial PRIMARY KEY,
    name text NOT NULL UNIQUE,
    view jsonb NOT NULL DEFAULT '{}',
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE scene (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    title text NOT NULL,
    delivery jsonb NOT NULL,
    UNIQUE (study_id, title)
);

CREATE TABLE land_class (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    code integer NOT NULL CHECK (code BETWEEN 1 AND 254),
    name text NOT NULL,
    colour text NOT NULL,
    description text NOT NULL DEFAULT '',
    UNIQUE (study_id, code)
);
CREATE UNIQUE INDEX land_class_name ON land_class (study_id, lower(name));

CREATE TABLE site (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    class_id integer NOT NULL REFERENCES land_class,
    geometry jsonb NOT NULL,
    note text NOT NULL DEFAULT ''
);

CREATE TABLE reference_point (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    x double precision NOT NULL,
    y double precision NOT NULL,
    class_code integer NOT NULL
);

CREATE TABLE layer (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    scene_id integer NOT NULL REFERENCES scene,
    name text NOT NULL,
    recipe jsonb NOT NULL,
    path text NOT NULL,
    pixels jsonb NOT NULL,
    hectares jsonb NOT NULL,
    seconds double precision NOT NULL,
    removed boolean NOT NULL DEFAULT false,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE run (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    title text NOT NULL,
    recipe jsonb NOT NULL,
    state text NOT NULL CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')),
    percent double precision NOT NULL DEFAULT 0,
    seconds_left double precision,
    log jsonb NOT NULL DEFAULT '[]',
    problem text,
    layer_id integer REFERENCES layer,
    cancel_requested boolean NOT NULL DEFAULT false,
    attempts integer NOT NULL DEFAULT 0,
    created_at timestamptz NOT NULL DEFAULT now(),
    finished_at timestamptz
);

CREATE TABLE edit (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    title text NOT NULL,
    changes jsonb NOT NULL,
    undone boolean NOT NULL DEFAULT false
);

CREATE INDEX site_study ON site (study_id);
CREATE INDEX run_study ON run (study_id, id DESC);
CREATE INDEX edit_study ON edit (study_id, id DESC);
