"""Studies made by versions before are still there after the migrations, and look as they did."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import numpy as np

from kitesort.core.delivery import DeliveredScene, open_delivery, read_delivery
from kitesort.core.recipe import DeliveredLeaf, Node, chain_of, layers_in, sentence_of
from kitesort.runs.perform import perform_run
from kitesort.store.database import MIGRATIONS, db, migrate, transaction
from kitesort.store.layers import get_layer, list_layers, recipe_of
from kitesort.store.models import LayerRow
from kitesort.store.records import Layer
from kitesort.store.runs import create_run
from kitesort.study.maps import list_maps
from kitesort.study.rasters import open_layer
from kitesort.study.training import make_training
from support.small_scene import SmallScene
from support.study import ROLES, SmallStudy, map_order

OLD = "migration_test"


@contextmanager
def version_before(name: str) -> Iterator[None]:
    """The tables as they were before a migration, in a schema of their own, which goes again."""
    with transaction():
        db.execute_sql(f"CREATE SCHEMA {OLD}")
        db.execute_sql(f"SET LOCAL search_path TO {OLD}")
        for path in sorted(MIGRATIONS.glob("*.sql")):
            if path.name < name:
                db.execute_sql(path.read_text())
        yield
        db.execute_sql("SET LOCAL search_path TO public")
        db.execute_sql(f"DROP SCHEMA {OLD} CASCADE")


def apply(name: str) -> None:
    for path in sorted(MIGRATIONS.glob("*.sql")):
        if path.name >= name:
            db.execute_sql(path.read_text())


def rows(sql: str, *values: Any) -> list[tuple[Any, ...]]:
    return db.execute_sql(sql, values).fetchall()


def bring_over(study_id: int, recipe: dict[str, Any], title: str = "Old") -> Layer:
    """A migrated recipe in a study of today."""
    row = LayerRow.create(study_id=study_id, title=title, recipe=recipe)
    return get_layer(row.id)


def test_scenes_of_the_first_version_open_as_they_did(
    small_study: SmallStudy, small_scene: SmallScene
) -> None:
    now = read_delivery(small_scene.metadata)
    old = now.model_dump(mode="json", include={
        "folder", "name", "sensor", "acquired", "sun_elevation_deg", "fill_value",
        "saturated_value",
    })  # fmt: skip
    old["bands"] = [
        b.model_dump(mode="json", include={
            "file", "role", "wavelength_um", "gain", "offset"}) | {"resolution_m": b.pixel_size}
        for b in now.bands
    ]  # fmt: skip
    old |= {"quality_file": "quality.tif", "quality_bits": {"fill": 0, "cloud": 1}}
    with version_before("0002"):
        rows("INSERT INTO study (name) VALUES ('Old study') RETURNING id")
        rows(
            "INSERT INTO scene (study_id, title, delivery) VALUES (1, 'Old pass', %s) RETURNING id",
            json.dumps(old),
        )
        rows(
            "INSERT INTO run (study_id, title, recipe, state) VALUES (1, 'Old', '{}', 'done') "
            "RETURNING id"
        )
        apply("0002")
        ((recipe, sensor, kind),) = rows("SELECT recipe, sensor, kind FROM layer")
        ((run_kind, task),) = rows("SELECT kind, task FROM run")
    assert (sensor, kind, run_kind, task) == ("Test sensor", "measured", "map", {})
    layer = bring_over(small_study.id, recipe)
    assert isinstance(recipe_of(layer.id), DeliveredLeaf)
    before, after = open_delivery(now), open_layer(layer.id)
    whole = before.grid.whole
    assert np.array_equal(after.read(whole).values, before.read(whole).values, equal_nan=True)
    assert np.array_equal(after.read(whole).valid, before.read(whole).valid)


def test_scenes_and_maps_become_layers_of_one_table(
    small_study: SmallStudy, small_scene: SmallScene
) -> None:
    delivery = read_delivery(small_scene.metadata)
    perform_run(create_run(small_study.id, "Classifying", "map", map_order(small_study)).id)
    (kept,), training = list_maps(small_study.id), _old_training(small_study)
    with version_before("0009"):
        _fill(delivery, training, kept)
        apply("0009")
        layers = {
            title: (layer_id, kind, recipe, path, areas)
            for layer_id, title, kind, recipe, path, areas in rows(
                "SELECT id, title, kind, recipe, kept_path, areas FROM layer ORDER BY id"
            )
        }
        runs = rows("SELECT kind, layer_id, task FROM run ORDER BY id")
        ((changes,),) = rows("SELECT changes FROM edit")
        ((view,),) = rows("SELECT view FROM study")
    assert [*layers] == [
        "June pass", "July pass", "June, matched", "Both", "Ratio",
        "June pass, class map 1", "June pass, map 2", "Ratio in classes",
    ]  # fmt: skip
    assert [kind for _, kind, *_ in layers.values()] == ["measured"] * 5 + ["classes"] * 3
    first = layers["June pass, class map 1"][0]
    second = layers["June pass, map 2"][0]
    assert [(kind, layer) for kind, layer, _ in runs] == [
        ("map", first), ("keep", 1), ("map", None), ("keep", None)
    ]  # fmt: skip
    assert runs[2][2]["recipe"]["operation"] == "breaks", "one that waits is still understood"
    assert runs[3][2] == {"layer_id": 3}
    assert [(c["entity"], c["id"], c["before"], c["after"]) for c in changes] == [
        ("layer", 1, {"title": "June"}, {"title": "June pass"}),
        ("layer", second, {"title": "Map"}, {"title": "June pass"}),
        ("class", 1, None, None),
    ]
    assert view["panes"] == [{"kind": "scene", "sceneId": 1}, {"kind": "map", "layerId": second}]
    assert view["layers"] == {
        "order": [f"map:{first}", "scene:1"], "hidden": [f"map:{second}"],
        "groups": {f"map:{first}": "Mine"},
    }  # fmt: skip
    assert layers["June pass, class map 1"][3:] == (
        kept.kept_path, {"pixels": {"1": 9}, "hectares": {"1": 0.9}, "seconds": 1.5}
    )  # fmt: skip
    _check_recipes(small_study, {title: entry[2] for title, entry in layers.items()}, kept)


def _old_training(s: SmallStudy) -> dict[str, Any]:
    told = make_training(s.id, s.scene_id, ROLES).model_dump(mode="json")
    return told | {"kind": "class-map", "scene_id": 1, "scene_name": "June pass"}


def _old_delivery(delivery: DeliveredScene) -> dict[str, Any]:
    text = delivery.model_dump_json().replace('"pixel_size"', '"resolution_m"')
    return dict(json.loads(text))


def _fill(delivery: DeliveredScene, training: dict[str, Any], kept: Layer) -> None:
    """Scenes 1 to 5, maps 1 to 3, runs, an edit and a view as the version before wrote them."""
    scenes = {
        "June pass": {"kind": "delivered", "delivery": _old_delivery(delivery)},
        "July pass": {"kind": "delivered", "delivery": _old_delivery(delivery)},
        "June, matched": {"kind": "scene", "scene_id": 1, "name": "June pass"},
        "Both": {
            "kind": "combined", "method": "median", "version": 1, "settings": {},
            "members": [{"kind": "scene", "scene_id": i, "name": f"Pass {i}"} for i in (1, 2)],
        },
        "Ratio": {
            "kind": "derived", "operation": "ratio", "version": 1,
            "settings": {"upper": "nir", "lower": "red"},
            "inputs": [{"kind": "scene", "scene_id": 1, "name": "June pass"}],
        },
    }  # fmt: skip
    steps = {
        "June, matched": [
            {"operation": "mask-like", "version": 1, "settings": {"scene_id": 2}},
            {"operation": "scale", "version": 1, "settings": {"scale": 2.0, "offset": 0.0}},
        ]
    }
    rows("INSERT INTO study (name, view) VALUES ('Old', %s) RETURNING id", json.dumps({
        "panes": [{"kind": "scene", "sceneId": 1}, {"kind": "layer", "layerId": 2}],
        "layers": {
            "order": ["layer:1", "scene:1"], "hidden": ["layer:2"], "groups": {"layer:1": "Mine"}
        },
    }))  # fmt: skip
    for title, source in scenes.items():
        recipe = {"source": source, "steps": steps.get(title, [])}
        rows(
            "INSERT INTO scene (study_id, title, recipe) VALUES (1, %s, %s) RETURNING id",
            title, json.dumps(recipe),
        )  # fmt: skip
    breaks = {
        "kind": "breaks", "scene_id": 5, "scene_name": "Ratio", "excluded": [],
        "role": "nir_over_red",
        "table": {"rows": [{"code": 1, "name": "Low", "colour": "#123456", "high": 1.0}]},
    }  # fmt: skip
    for name, recipe, path in (
        ("June pass, class map 1", training, kept.kept_path),
        ("June pass", training, "gone.tif"),
        ("Ratio in classes", breaks, "gone-too.tif"),
    ):
        rows(
            "INSERT INTO layer (study_id, scene_id, name, recipe, path, pixels, hectares, seconds)"
            " VALUES (1, %s, %s, %s, %s, '{\"1\": 9}', '{\"1\": 0.9}', 1.5) RETURNING id",
            recipe["scene_id"], name, json.dumps(recipe), path,
        )  # fmt: skip
    rows(
        "INSERT INTO run (study_id, title, kind, task, state, layer_id, scene_id) VALUES "
        "(1, 'a', 'classify', %s, 'done', 1, NULL), "
        "(1, 'b', 'keep-scene', '{\"scene_id\": 1}', 'done', NULL, 1), "
        "(1, 'c', 'breaks', %s, 'waiting', NULL, NULL), "
        "(1, 'd', 'keep-scene', '{\"scene_id\": 3}', 'waiting', NULL, NULL) RETURNING id",
        json.dumps(training), json.dumps(breaks),
    )  # fmt: skip
    changes = [
        {"entity": "scene", "id": 1, "before": {"title": "June"}, "after": {"title": "June pass"}},
        {"entity": "layer", "id": 2, "before": {"name": "Map"}, "after": {"name": "June pass"}},
        {"entity": "class", "id": 1, "before": None, "after": None},
    ]
    rows(
        "INSERT INTO edit (study_id, title, changes) VALUES (1, 'x', %s) RETURNING id",
        json.dumps(changes),
    )


def _check_recipes(study: SmallStudy, recipes: dict[str, Any], kept: Layer) -> None:
    """In a study of today, whose ids take the place of the old ones: they open, read as sentences,
    and give the pixels that they gave."""
    ids: dict[int, int] = {}
    for number, (title, recipe) in enumerate(recipes.items(), start=1):
        placed = json.loads(json.dumps(recipe))
        _replace_ids(placed, ids)
        ids[number] = bring_over(study.id, placed, f"{title} of old").id
    matched, both, ratio, first, _, breaks = (recipe_of(ids[i]) for i in range(3, 9))
    _, steps = chain_of(matched)
    assert [step.operation for step in steps] == ["mask-like", "scale"]
    assert layers_in(matched) == (ids[1], ids[2])
    assert isinstance(both, Node) and both.operation == "median"
    assert sentence_of(both) == "The median of Pass 1, Pass 2."
    assert isinstance(ratio, Node) and layers_in(ratio) == (ids[1],)
    assert isinstance(first, Node) and first.operation == "classify"
    assert isinstance(breaks, Node) and breaks.operation == "breaks"
    whole = open_layer(ids[1]).grid.whole
    here, doubled = (open_layer(ids[i]).read(whole).values for i in (1, 3))
    assert np.array_equal(doubled, 2 * here, equal_nan=True)
    made_again, was_kept = open_layer(ids[6]).read(whole), open_layer(kept.id, "work").read(whole)
    assert np.array_equal(made_again.values, was_kept.values, equal_nan=True)
    assert set(np.unique(open_layer(ids[8]).read(whole).values)) >= {1.0, 255.0}
    assert len(list_layers(study.id)) == 2 + len(recipes)


def _replace_ids(recipe: Any, ids: dict[int, int]) -> None:
    if isinstance(recipe, dict):
        for key in ("layer_id", "scene_id"):
            if isinstance(recipe.get(key), int):
                recipe[key] = ids[recipe[key]]
        for part in recipe.values():
            _replace_ids(part, ids)
    elif isinstance(recipe, list):
        for part in recipe:
            _replace_ids(part, ids)


def test_migrations_are_applied_once(store: str) -> None:
    assert store
    assert migrate() == []
