-- Which class a cluster of a map is.
CREATE TABLE cluster_name (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    layer_id integer NOT NULL REFERENCES layer ON DELETE CASCADE,
    code integer NOT NULL,
    class_id integer NOT NULL,
    UNIQUE (layer_id, code)
);
