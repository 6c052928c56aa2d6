import json
from pathlib import Path

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.errors import BadSettingsError, InputError, NotFoundError
from kitesort.core.recipe import (
    DeliveredLeaf,
    LayerLeaf,
    LayerReader,
    Node,
    apply_operation,
    fingerprint,
    open_recipe,
    read_recipe,
    sentence_of,
)
from support.recipes import stepped
from support.scene_context import reader_of
from support.small_scene import CLOUD, rectangle, write_small_scene


@pytest.fixture
def reader(tmp_path: Path) -> LayerReader:
    return reader_of(
        write_small_scene(tmp_path / "a", seed=1).metadata,
        write_small_scene(tmp_path / "b", seed=2).metadata,
    )


BASE = LayerLeaf(layer_id=1, name="June pass")


def test_a_delivered_scene_in_words(tmp_path: Path) -> None:
    delivery = read_delivery(write_small_scene(tmp_path).metadata)
    recipe = DeliveredLeaf(delivery=delivery)
    assert sentence_of(recipe) == (
        "SMALL_1 of Test sensor as reflectance, 4 bands (blue, red, nir, swir16)."
    )


def test_steps_add_up_and_read_as_a_sentence(reader: LayerReader) -> None:
    recipe = stepped(BASE, "dark-object", {"foot_percent": 1.0}, reader)
    recipe = stepped(recipe, "mask-quality", {"flags": ["cloud"]}, reader)
    recipe = stepped(recipe, "crop", {"areas": [rectangle(0, 60, 40, 60)]}, reader)
    assert sentence_of(recipe).startswith(
        "June pass; haze taken out by dark objects from the histogram's foot (blue 0.0"
    )
    assert sentence_of(recipe).endswith("cloud masked by the quality band; cropped to an area.")
    raster = open_recipe(recipe, reader, ("fill",))
    assert (raster.grid.height, raster.grid.width) == (40, 60)
    assert not raster.read(raster.grid.whole).valid[CLOUD[0], 40:60].any()


def test_a_recipe_is_data_and_gives_the_same_pixels(reader: LayerReader) -> None:
    """What was left open is in the recipe: nothing is found again when it is opened."""
    recipe = stepped(BASE, "match-histogram", {"scene_id": 2}, reader)
    again = read_recipe(json.loads(recipe.model_dump_json()))
    assert again == recipe and fingerprint(again) == fingerprint(recipe)
    one, two = open_recipe(recipe, reader), open_recipe(again, reader)
    whole = one.grid.whole
    assert np.array_equal(one.read(whole).values, two.read(whole).values, equal_nan=True)
    assert len(recipe.settings["table"]["nir"][0]) > 100


def test_a_mask_after_a_change_of_grid_follows_it(reader: LayerReader) -> None:
    recipe = stepped(BASE, "regrid", {"pixel_size": 20}, reader)
    recipe = stepped(recipe, "mask-quality", {"flags": ["cloud"]}, reader)
    valid = open_recipe(recipe, reader, ("fill",)).read
    raster = open_recipe(recipe, reader, ("fill",))
    assert not valid(raster.grid.whole).valid[0:6, 50:62].any()


def test_several_scenes_into_one(reader: LayerReader) -> None:
    members = tuple(LayerLeaf(layer_id=i, name=f"Pass {i}") for i in (1, 2))
    recipe = apply_operation(members, "median", {}, reader, str)
    assert sentence_of(recipe) == "The median of Pass 1, Pass 2."
    longer = stepped(recipe, "dark-object", {}, reader)
    assert open_recipe(longer, reader).grid.width == 128
    with pytest.raises(InputError, match="no quality band of its own"):
        stepped(recipe, "mask-quality", {"flags": ["cloud"]}, reader)


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
    reader: LayerReader, operation: str, settings: dict[str, object], error: type[Exception]
) -> None:
    with pytest.raises(error):
        stepped(BASE, operation, settings, reader)


def test_a_step_of_another_version_is_refused(reader: LayerReader) -> None:
    old = Node(operation="scale", version=0, settings={}, inputs=(BASE,))
    with pytest.raises(BadSettingsError, match="version 0 of “Scale and offset”"):
        open_recipe(old, reader)
