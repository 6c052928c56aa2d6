-- One table of layers: scenes and class maps are rows of it, told apart by kind; a recipe is one
-- tree of operations over delivered files and other layers.
CREATE FUNCTION pg_temp.leaf(id integer) RETURNS jsonb LANGUAGE sql AS $$
    SELECT jsonb_build_object(
        'kind', 'layer', 'layer_id', id,
        'name', coalesce((SELECT title FROM scene WHERE scene.id = leaf.id), 'Scene ' || id))
$$;

CREATE FUNCTION pg_temp.leaves(scenes jsonb) RETURNS jsonb LANGUAGE sql AS $$
    SELECT jsonb_agg(
        jsonb_build_object('kind', 'layer', 'layer_id', s -> 'scene_id', 'name', s -> 'name')
        ORDER BY n)
    FROM jsonb_array_elements(scenes) WITH ORDINALITY AS of_scenes (s, n)
$$;

CREATE FUNCTION pg_temp.as_tree(recipe jsonb) RETURNS jsonb LANGUAGE plpgsql AS $$
DECLARE
    source jsonb := recipe -> 'source';
    step jsonb;
    tree jsonb;
BEGIN
    tree := CASE source ->> 'kind'
        WHEN 'delivered' THEN source
        WHEN 'scene' THEN jsonb_build_object(
            'kind', 'layer', 'layer_id', source -> 'scene_id', 'name', source -> 'name')
        WHEN 'combined' THEN jsonb_build_object(
            'kind', 'operation', 'operation', source -> 'method', 'version', source -> 'version',
            'settings', coalesce(source -> 'settings', '{}'),
            'inputs', pg_temp.leaves(source -> 'members'))
        ELSE jsonb_build_object(
            'kind', 'operation', 'operation', source -> 'operation',
            'version', source -> 'version', 'settings', source -> 'settings',
            'inputs', pg_temp.leaves(source -> 'inputs'))
    END;
    FOR step IN SELECT * FROM jsonb_array_elements(coalesce(recipe -> 'steps', '[]')) LOOP
        tree := jsonb_build_object(
            'kind', 'operation', 'operation', step -> 'operation', 'version', step -> 'version',
            'settings', step -> 'settings',
            'inputs', jsonb_build_array(tree) || CASE
                WHEN jsonb_typeof(step -> 'settings' -> 'scene_id') = 'number'
                THEN jsonb_build_array(pg_temp.leaf((step -> 'settings' ->> 'scene_id')::integer))
                ELSE '[]' END);
    END LOOP;
    RETURN tree;
END
$$;

CREATE FUNCTION pg_temp.map_as_tree(recipe jsonb) RETURNS jsonb LANGUAGE sql AS $$
    SELECT jsonb_build_object(
        'kind', 'operation',
        'operation', CASE recipe ->> 'kind' WHEN 'breaks' THEN 'breaks' ELSE 'classify' END,
        'version', 1,
        'settings', recipe - 'kind' - 'scene_id' - 'scene_name',
        'inputs', jsonb_build_array(jsonb_build_object(
            'kind', 'layer', 'layer_id', recipe -> 'scene_id', 'name', recipe -> 'scene_name')))
$$;

UPDATE scene SET recipe = pg_temp.as_tree(recipe);

ALTER TABLE layer RENAME TO old_map;
ALTER TABLE scene RENAME TO layer;
ALTER INDEX scene_title RENAME TO layer_title;
ALTER INDEX scene_draft RENAME TO layer_draft;
ALTER TABLE layer
    ADD COLUMN kind text NOT NULL DEFAULT 'measured' CHECK (kind IN ('measured', 'classes')),
    ADD COLUMN told jsonb,
    ADD COLUMN areas jsonb,
    ADD COLUMN old_map_id integer;

-- Titles are free of one another from now on, whatever the kind.
INSERT INTO layer (
    study_id, title, recipe, kind, told, areas, kept_path, removed, created_at, old_map_id)
SELECT
    study_id,
    CASE WHEN removed OR (
        row_number() OVER (PARTITION BY study_id, name, removed ORDER BY id) = 1
        AND NOT EXISTS (
            SELECT 1 FROM layer AS other
            WHERE other.study_id = old_map.study_id AND other.title = old_map.name
                AND NOT other.removed)
    ) THEN name ELSE name || ', map ' || id END,
    pg_temp.map_as_tree(recipe), 'classes', NULL,
    jsonb_build_object('pixels', pixels, 'hectares', hectares, 'seconds', seconds),
    path, removed, created_at, id
FROM old_map ORDER BY id;

ALTER TABLE run DROP CONSTRAINT run_layer_id_fkey;
UPDATE run SET layer_id = coalesce(
    (SELECT id FROM layer WHERE old_map_id = run.layer_id), run.scene_id);
ALTER TABLE run
    DROP COLUMN scene_id,
    ADD CONSTRAINT run_layer_id_fkey FOREIGN KEY (layer_id) REFERENCES layer ON DELETE SET NULL;
-- Runs that wait say what they will keep in the words of today.
UPDATE run SET
    kind = 'map',
    task = jsonb_build_object('recipe', pg_temp.map_as_tree(
        CASE WHEN task ? 'kind' THEN task ELSE task || '{"kind": "class-map"}' END))
WHERE kind IN ('classify', 'breaks') AND task ? 'scene_id';
UPDATE run SET kind = 'map' WHERE kind IN ('classify', 'breaks');
UPDATE run SET kind = 'keep', task = jsonb_build_object('layer_id', task -> 'scene_id')
WHERE kind = 'keep-scene';

-- What can be undone names rows of the one table.
UPDATE edit SET changes = (
    SELECT jsonb_agg(CASE change ->> 'entity'
        WHEN 'scene' THEN change || '{"entity": "layer"}'
        WHEN 'layer' THEN jsonb_build_object(
            'entity', 'layer',
            'id', (SELECT id FROM layer WHERE old_map_id = (change ->> 'id')::integer),
            'before', CASE WHEN change -> 'before' ? 'name'
                THEN jsonb_build_object('title', change -> 'before' -> 'name')
                ELSE change -> 'before' END,
            'after', CASE WHEN change -> 'after' ? 'name'
                THEN jsonb_build_object('title', change -> 'after' -> 'name')
                ELSE change -> 'after' END)
        ELSE change END ORDER BY n)
    FROM jsonb_array_elements(changes) WITH ORDINALITY AS of_changes (change, n))
WHERE changes @? '$[*] ? (@.entity == "scene" || @.entity == "layer")';

-- Panes that show a class map.
UPDATE study SET view = jsonb_set(view, '{panes}', (
    SELECT jsonb_agg(
        CASE WHEN pane ->> 'kind' = 'layer' THEN jsonb_build_object(
            'kind', 'map', 'layerId',
            (SELECT id FROM layer WHERE old_map_id = (pane ->> 'layerId')::integer))
        ELSE pane END ORDER BY n)
    FROM jsonb_array_elements(view -> 'panes') WITH ORDINALITY AS of_panes (pane, n)))
WHERE jsonb_typeof(view -> 'panes') = 'array' AND view -> 'panes' @? '$[*] ? (@.kind == "layer")';

-- The analyst's order, what is hidden, and groups name layers by their kind and id.
CREATE FUNCTION pg_temp.key_now(key text) RETURNS text LANGUAGE sql AS $$
    SELECT CASE WHEN key ~ '^layer:[0-9]+$'
        THEN 'map:' || coalesce(
            (SELECT id FROM layer WHERE old_map_id = substr(key, 7)::integer), 0)
        ELSE key END
$$;

CREATE FUNCTION pg_temp.keys_now(keys jsonb) RETURNS jsonb LANGUAGE sql AS $$
    SELECT coalesce(jsonb_agg(pg_temp.key_now(key) ORDER BY n), '[]')
    FROM jsonb_array_elements_text(coalesce(keys, '[]')) WITH ORDINALITY AS of_keys (key, n)
$$;

UPDATE study SET view = jsonb_set(view, '{layers}', jsonb_build_object(
    'order', pg_temp.keys_now(view #> '{layers,order}'),
    'hidden', pg_temp.keys_now(view #> '{layers,hidden}'),
    'groups', (
        SELECT coalesce(jsonb_object_agg(pg_temp.key_now(key), value), '{}')
        FROM jsonb_each(coalesce(view #> '{layers,groups}', '{}')))))
WHERE jsonb_typeof(view -> 'layers') = 'object';

DROP TABLE old_map;
ALTER TABLE layer DROP COLUMN old_map_id;

DROP FUNCTION pg_temp.leaf, pg_temp.leaves, pg_temp.as_tree, pg_temp.map_as_tree,
    pg_temp.key_now, pg_temp.keys_now;
