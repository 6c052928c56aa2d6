import json
from pathlib import Path

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.errors import BadSettingsError, InputError, NotFoundError
from kitesort.core.scene_recipe import (
    CombinedSource,
    DeliveredSource,
    SceneReader,
    SceneRecipe,
    SceneSource,
    Step,
    add_step,
    open_recipe,
)
from support.scene_context import reader_of
from support.small_scene import CLOUD, rectangle, write_small_scene


@pytest.fixture
def reader(tmp_path: Path) -> SceneReader:
    return reader_of(
        write_small_scene(tmp_path / "a", seed=1).metadata,
        write_small_scene(tmp_path / "b", seed=2).metadata,
    )


BASE = SceneRecipe(source=SceneSource(scene_id=1, name="June pass"))


def test_a_delivered_scene_in_words(tmp_path: Path) -> None:
    delivery = read_delivery(write_small_scene(tmp_path).metadata)
    recipe = SceneRecipe(source=DeliveredSource(delivery=delivery))
    assert recipe.sentence == (
        "SMALL_1 of Test sensor as reflectance, 4 bands (blue, red, nir, swir16)."
    )


def test_steps_add_up_and_read_as_a_sentence(reader: SceneReader) -> None:
    recipe = add_step(BASE, "dark-object", {"foot_percent": 1.0}, reader)
    recipe = add_step(recipe, "mask-quality", {"flags": ["cloud"]}, reader)
    recipe = add_step(recipe, "crop", {"areas": [rectangle(0, 60, 40, 60)]}, reader)
    assert recipe.sentence.startswith(
        "June pass; haze taken out by dark objects from the histogram's foot (blue 0.0"
    )
    assert recipe.sentence.endswith("cloud masked by the quality band; cropped to an area.")
    raster = open_recipe(recipe, reader, ("fill",))
    assert (raster.grid.height, raster.grid.width) == (40, 60)
    assert not raster.read(raster.grid.whole).valid[CLOUD[0], 40:60].any()


def test_a_recipe_is_data_and_gives_the_same_pixels(reader: SceneReader) -> None:
    """What was left open is in the recipe: nothing is found again when it is opened."""
    recipe = add_step(BASE, "match-histogram", {"scene_id": 2}, reader)
    again = SceneRecipe.model_validate(json.loads(recipe.model_dump_json()))
    assert again == recipe and again.fingerprint == recipe.fingerprint
    one, two = open_recipe(recipe, reader), open_recipe(again, reader)
    whole = one.grid.whole
    assert np.array_equal(one.read(whole).values, two.read(whole).values, equal_nan=True)
    assert len(recipe.steps[0].settings["table"]["nir"][0]) > 100


def test_a_mask_after_a_change_of_grid_follows_it(reader: SceneReader) -> None:
    recipe = add_step(BASE, "regrid", {"pixel_size": 20}, reader)
    recipe = add_step(recipe, "mask-quality", {"flags": ["cloud"]}, reader)
    valid = open_recipe(recipe, reader, ("fill",)).read
    raster = open_recipe(recipe, reader, ("fill",))
    assert not valid(raster.grid.whole).valid[0:6, 50:62].any()


def test_several_scenes_into_one(reader: SceneReader) -> None:
    members = tuple(SceneSource(scene_id=i, name=f"Pass {i}") for i in (1, 2))
    recipe = SceneRecipe(source=CombinedSource(method="median", version=1, members=members))
    assert recipe.sentence == "The median of Pass 1, Pass 2."
    longer = add_step(recipe, "dark-object", {}, reader)
    assert open_recipe(longer, reader).grid.width == 128
    with pytest.raises(InputError, match="no quality band of its own"):
        add_step(recipe, "mask-quality", {"flags": ["cloud"]}, reader)


@pytest.mark.parametrize(
    ("operation", "settings", "error"),
    [
        ("levitate", {}, NotFoundError),
        ("scale", {"scale": -1}, BadSettingsError),
        ("crop", {"areas": [rectangle(9000, 0, 5, 5)]}, InputError),
        ("mask-areas", {"areas": [{"type": "Point", "coordinates": [1, 2]}]}, InputError),
        ("convert", {"quantity": "radiance"}, InputError),
    ],
)
def test_what_cannot_be_done_is_told_at_once(
    reader: SceneReader, operation: str, settings: dict[str, object], error: type[Exception]
) -> None:
    with pytest.raises(error):
        add_step(BASE, operation, settings, reader)


def test_a_step_of_another_version_is_refused(reader: SceneReader) -> None:
    old = BASE.model_copy(update={"steps": (Step(operation="scale", version=0, settings={}),)})
    with pytest.raises(BadSettingsError, match="version 0 of “Scale and offset”"):
        open_recipe(old, reader)
