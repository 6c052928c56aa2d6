"""A study from before scenes were recipes is still there after the migration."""

import json

import numpy as np

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.store.database import MIGRATIONS, db, migrate, transaction
from kitesort.store.rasters import usable_scene
from kitesort.store.scenes import get_scene
from support.small_scene import SmallScene

OLD = "migration_test"


def test_scenes_of_the_first_version_open_as_they_did(store: str, small_scene: SmallScene) -> None:
    """The first version's tables are made in a schema of their own, filled, and brought up."""
    assert store
    now = read_delivery(small_scene.metadata)
    old = now.model_dump(mode="json", include={
        "folder", "name", "sensor", "acquired", "sun_elevation_deg", "fill_value",
        "saturated_value",
    })  # fmt: skip
    old["bands"] = [
        b.model_dump(mode="json", include={
            "file", "role", "wavelength_um", "resolution_m", "gain", "offset"})
        for b in now.bands
    ]  # fmt: skip
    old |= {"quality_file": "quality.tif", "quality_bits": {"fill": 0, "cloud": 1}}
    with transaction():
        db.execute_sql(f"CREATE SCHEMA {OLD}")
        db.execute_sql(f"SET LOCAL search_path TO {OLD}")
        db.execute_sql((MIGRATIONS / "0001_first.sql").read_text())
        db.execute_sql("INSERT INTO study (name) VALUES ('Old study')")
        db.execute_sql(
            "INSERT INTO scene (study_id, title, delivery) VALUES (1, 'Old pass', %s)",
            (json.dumps(old),),
        )
        db.execute_sql(
            "INSERT INTO run (study_id, title, recipe, state) VALUES (1, 'Old', '{}', 'done')"
        )
        db.execute_sql((MIGRATIONS / "0002_scenes.sql").read_text())
        recipe, sensor = db.execute_sql("SELECT recipe, sensor FROM scene").fetchone()
        kind, task = db.execute_sql("SELECT kind, task FROM run").fetchone()
        db.execute_sql("SET LOCAL search_path TO public")
        db.execute_sql(f"DROP SCHEMA {OLD} CASCADE")
        (study_id,) = db.execute_sql(
            "INSERT INTO study (name) VALUES ('Old study') RETURNING id"
        ).fetchone()
        (scene_id,) = db.execute_sql(
            "INSERT INTO scene (study_id, title, recipe, acquired) VALUES (%s, 'Old', %s, %s) "
            "RETURNING id",
            (study_id, json.dumps(recipe), "2024-06-01"),
        ).fetchone()
    assert (sensor, kind, task) == ("Test sensor", "classify", {})
    scene = get_scene(scene_id)
    assert scene.recipe.steps == ()
    before, after = open_delivery(now), usable_scene(scene_id)
    whole = before.grid.whole
    assert np.array_equal(after.read(whole).values, before.read(whole).values, equal_nan=True)
    assert np.array_equal(after.read(whole).valid, before.read(whole).valid)


def test_migrations_are_applied_once(store: str) -> None:
    assert store
    assert migrate() == []
