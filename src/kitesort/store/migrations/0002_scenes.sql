-- A scene is a recipe: what was delivered, or other scenes, and the steps since.
ALTER TABLE scene
    ADD COLUMN recipe jsonb,
    ADD COLUMN acquired date,
    ADD COLUMN sensor text NOT NULL DEFAULT '',
    ADD COLUMN series text,
    ADD COLUMN kept_path text,
    ADD COLUMN statistics jsonb,
    ADD COLUMN removed boolean NOT NULL DEFAULT false,
    ADD COLUMN created_at timestamptz NOT NULL DEFAULT now();

UPDATE scene SET
    acquired = (delivery ->> 'acquired')::date,
    sensor = delivery ->> 'sensor',
    recipe = jsonb_build_object(
        'source', jsonb_build_object(
            'kind', 'delivered',
            'delivery', (delivery - 'quality_file' - 'quality_bits') || jsonb_build_object(
                'quality', CASE WHEN delivery ->> 'quality_file' IS NULL THEN NULL ELSE
                    jsonb_build_object(
                        'file', delivery ->> 'quality_file',
                        'flags', (
                            SELECT coalesce(jsonb_agg(
                                jsonb_build_object('name', key, 'first_bit', value)), '[]')
                            FROM jsonb_each(delivery -> 'quality_bits')
                        )
                    )
                END
            )
        ),
        'steps', '[]'::jsonb
    );

ALTER TABLE scene
    ALTER COLUMN recipe SET NOT NULL,
    DROP COLUMN delivery,
    DROP CONSTRAINT scene_study_id_title_key;
CREATE UNIQUE INDEX scene_title ON scene (study_id, title) WHERE NOT removed;

-- A run is of a kind, and what it shall do is its order.
ALTER TABLE run ADD COLUMN kind text NOT NULL DEFAULT 'classify';
ALTER TABLE run RENAME COLUMN recipe TO task;
ALTER TABLE run ADD COLUMN scene_id integer REFERENCES scene ON DELETE SET NULL;

-- Files on their way into a study: uploaded, downloaded from a catalogue, or left where they are.
CREATE TABLE delivery (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    name text NOT NULL,
    origin text NOT NULL CHECK (origin IN ('upload', 'folder', 'catalogue')),
    folder text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE delivered_file (
    id serial PRIMARY KEY,
    delivery_id integer NOT NULL REFERENCES delivery ON DELETE CASCADE,
    path text NOT NULL,
    size bigint NOT NULL,
    sha256 text NOT NULL,
    UNIQUE (delivery_id, path)
);
CREATE INDEX delivery_study ON delivery (study_id, id DESC);
