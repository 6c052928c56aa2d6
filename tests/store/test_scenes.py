"""Scenes as rows: names, families, what depends on what, and the study's coordinate system."""

from pathlib import Path

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.errors import DuplicateNameError, InputError, NotFoundError
from kitesort.core.recipe import LayerLeaf, Recipe, apply_operation
from kitesort.store.edits import undo
from kitesort.store.layers import (
    dependants_of,
    free_title,
    remove_layer,
    require_in_study,
    set_kept,
)
from kitesort.store.records import Layer
from kitesort.store.scenes import add_scene, derive_scene, first_scene_id, list_scenes
from kitesort.store.studies import create_study
from kitesort.study.rasters import (
    READER,
    delivery_of,
    for_display,
    open_layer,
    opened,
    study_crs,
)
from support.recipes import stepped
from support.small_scene import write_small_scene
from support.study import SmallStudy


@pytest.fixture
def scene(small_study: SmallStudy) -> Layer:
    (only,) = list_scenes(small_study.id)
    return only


def base_of(scene: Layer) -> Recipe:
    return LayerLeaf(layer_id=scene.id, name=scene.title)


def derived(scene: Layer, *steps: tuple[str, dict[str, object]]) -> Layer:
    recipe = base_of(scene)
    for operation, settings in steps:
        recipe = stepped(recipe, operation, settings, READER)
    return derive_scene(scene.study_id, recipe)


def test_names_write_themselves_and_stay_apart(scene: Layer) -> None:
    cloud = ("mask-quality", {"flags": ["cloud"]})
    one, two = (derived(scene, ("dark-object", {}), cloud) for _ in range(2))
    assert one.title == "June pass, haze out, masked"
    assert two.title == "June pass, haze out, masked 2"
    assert free_title(scene.study_id, "june PASS") == "june PASS 2"
    with pytest.raises(DuplicateNameError, match="june pass"):
        derive_scene(scene.study_id, base_of(scene), "june pass")


def test_date_and_sensor_come_from_where_it_was_made(
    scene: Layer, small_study: SmallStudy, tmp_path: Path
) -> None:
    made = derived(scene, ("scale", {"scale": 2.0}))
    assert (made.acquired, made.sensor) == (scene.acquired, scene.sensor)
    later = read_delivery(write_small_scene(tmp_path / "b").metadata)
    other = add_scene(
        small_study.id, "Later", later.model_copy(update={"acquired": None, "sensor": "Another"})
    )
    members = tuple(LayerLeaf(layer_id=s.id, name=s.title) for s in (scene, other))
    both = derive_scene(
        small_study.id,
        apply_operation(members, "median", {}, READER, str),
    )
    assert both.acquired is None and both.sensor == "Test sensor and Another"
    assert delivery_of(made.id) == delivery_of(scene.id)
    assert delivery_of(both.id) is None


def test_what_depends_on_a_scene(scene: Layer) -> None:
    child = derived(scene, ("dark-object", {}))
    grandchild = derived(child, ("scale", {"scale": 0.5}))
    like = derived(grandchild, ("match-histogram", {"scene_id": scene.id}))
    assert [s.id for s in dependants_of(scene.id)] == [child.id, like.id]
    assert [s.id for s in dependants_of(child.id)] == [grandchild.id]
    before = open_layer(grandchild.id).read(open_layer(scene.id).grid.whole)
    expected = open_layer(child.id).read(open_layer(scene.id).grid.whole)
    assert before.values == pytest.approx(expected.values * 0.5, nan_ok=True)


def test_the_study_s_system_is_that_of_its_first_scene_for_good(
    scene: Layer, small_study: SmallStudy
) -> None:
    degrees = derived(scene, ("regrid", {"crs": "EPSG:4326"}))
    assert study_crs(small_study.id) == "EPSG:32625"
    assert opened(degrees.id).shown.grid.crs == "EPSG:32625"
    assert for_display(open_layer(scene.id), small_study.id) is open_layer(scene.id)
    remove_layer(scene.id)
    assert first_scene_id(small_study.id) == scene.id, "removed or not"
    undo(small_study.id)
    assert [s.id for s in list_scenes(small_study.id)] == [scene.id, degrees.id]


def test_a_kept_file_is_read_instead(scene: Layer) -> None:
    from kitesort.core.raster.scene_file import write_scene
    from kitesort.store.files import layer_path

    made = derived(scene, ("dark-object", {}))
    write_scene(open_layer(made.id), layer_path("kept-test.tif"))
    set_kept(made.id, "kept-test.tif")
    kept, lazy = open_layer(made.id, "work"), open_layer(made.id)
    assert kept.fingerprint != lazy.fingerprint
    whole = lazy.grid.whole
    one, two = kept.read(whole), lazy.read(whole)
    assert np.array_equal(one.valid, two.valid)
    assert np.array_equal(one.values[:, one.valid], two.values[:, two.valid])


def test_a_study_without_scenes(store: str) -> None:
    assert store
    study = create_study("Empty")
    assert list_scenes(study.id) == []
    with pytest.raises(NotFoundError, match="no scene yet"):
        study_crs(study.id)


def test_scenes_of_another_study_are_not_mixed_in(scene: Layer) -> None:
    other = create_study("Other")
    with pytest.raises(InputError, match="another study"):
        require_in_study(other.id, [scene.id])
    with pytest.raises(NotFoundError):
        require_in_study(other.id, [10**8])
