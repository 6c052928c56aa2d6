"""Sharpened and filtered scenes: layers that are still the scene, in its units, with its look."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.errors import BadSettingsError, MissingRoleError
from kitesort.core.recipe import LayerLeaf, sentence_of
from kitesort.runs.perform import perform_run
from kitesort.store.layers import recipe_of
from kitesort.store.records import Layer
from kitesort.store.runs import create_run
from kitesort.store.scenes import add_scene, derive_scene
from kitesort.study.derive import make_draft, prepare_derived
from kitesort.study.look import band_sample, natural_limits, region_values, stretch_pattern
from kitesort.study.rasters import (
    READER,
    open_layer,
    opened,
    quantity_of,
)
from support.recipes import stepped
from support.small_scene import write_small_scene
from support.study import SmallStudy

FILTER = {"length_px": 32, "period_px": 4}


def make(study: SmallStudy, operation: str, scene_id: int | None = None, **settings: Any) -> Layer:
    recipe = prepare_derived(study.id, scene_id or study.scene_id, operation, settings)
    return derive_scene(study.id, recipe)


def test_units_and_roles_stay(small_study: SmallStudy) -> None:
    for operation, settings in (("sharpen", {}), ("stripe-filter", FILTER)):
        made = make(small_study, operation, **settings)
        assert quantity_of(made.id) == "reflectance"
        before, after = (open_layer(i).bands for i in (small_study.scene_id, made.id))
        assert [(b.role, b.wavelength_um) for b in before] == [
            (b.role, b.wavelength_um) for b in after
        ]
        assert natural_limits(opened(made.id), ("nir",)).high == 1.0


def test_units_are_those_of_the_scene_behind(small_study: SmallStudy) -> None:
    """Numbers stay numbers, an index stays an index."""
    source = LayerLeaf(layer_id=small_study.scene_id, name="June pass")
    recipe = stepped(source, "convert", {"quantity": "numbers"}, READER)
    numbers = derive_scene(small_study.id, recipe)
    filtered = make(small_study, "stripe-filter", numbers.id, **FILTER)
    assert quantity_of(filtered.id) == quantity_of(numbers.id) == "numbers"
    index = make(small_study, "index", index="ndvi")
    assert quantity_of(make(small_study, "stripe-filter", index.id, **FILTER).id) == "values"


def test_indices_of_an_improved_scene(small_study: SmallStudy) -> None:
    made = make(small_study, "sharpen")
    index = open_layer(make(small_study, "index", made.id, index="ndmi").id)
    bands = open_layer(made.id)
    nir, swir = bands.read(bands.grid.whole, ("nir", "swir16")).values.astype(np.float64)
    block = index.read(index.grid.whole)
    nir, swir = nir[block.valid], swir[block.valid]
    assert np.allclose(block.values[0][block.valid], (nir - swir) / (nir + swir), atol=1e-5)


def test_stretch_is_that_of_the_scene_behind_until_it_is_kept(small_study: SmallStudy) -> None:
    """So that before and after look alike, and nothing has to be computed everywhere first."""
    made = make(small_study, "stripe-filter", **FILTER)
    assert stretch_pattern(opened(made.id)).id == small_study.scene_id
    assert np.array_equal(
        band_sample(opened(made.id), "red"), band_sample(opened(small_study.scene_id), "red")
    )
    own = region_values(opened(made.id), ("red",)).values[0]
    assert not np.array_equal(own, band_sample(opened(made.id), "red")), (
        "what is counted is its own"
    )
    run = create_run(small_study.id, "Keeping", "keep", {"layer_id": made.id})
    perform_run(run.id)
    assert stretch_pattern(opened(made.id)).id == made.id
    assert np.array_equal(np.sort(band_sample(opened(made.id), "red")), np.sort(own))
    texture = make(small_study, "texture", role="nir", window_px=3)
    assert stretch_pattern(opened(texture.id)).id == texture.id, (
        "another quantity has a stretch of its own"
    )


def test_kept_pixels_are_those_of_the_recipe(small_study: SmallStudy) -> None:
    for operation, settings in (("sharpen", {}), ("stripe-filter", FILTER)):
        made = make(small_study, operation, **settings)
        lazy = open_layer(made.id).read(open_layer(made.id).grid.whole)
        run = create_run(small_study.id, "Keeping", "keep", {"layer_id": made.id})
        perform_run(run.id)
        kept = open_layer(made.id, "work")
        block = kept.read(kept.grid.whole)
        assert np.array_equal(block.valid, lazy.valid)
        assert np.array_equal(block.values[:, block.valid], lazy.values[:, block.valid])


def test_a_preview_says_what_was_found(small_study: SmallStudy) -> None:
    recipe = prepare_derived(small_study.id, small_study.scene_id, "sharpen", {})
    draft = make_draft(small_study.id, recipe)
    words = sentence_of(recipe_of(draft.id))
    assert words.startswith("coarse bands sharpened with the detail of")
    assert "swir16 ×" in words


def test_refused_by_name(small_study: SmallStudy, tmp_path: Path) -> None:
    with pytest.raises(MissingRoleError, match="pan"):
        make(small_study, "sharpen", fine=["pan"])
    with pytest.raises(BadSettingsError, match="nir is as fine as the scene’s pixels already"):
        make(small_study, "sharpen", roles=["nir"])
    with pytest.raises(
        BadSettingsError, match="Direction of the stripes, degrees: input should be less"
    ):
        make(small_study, "stripe-filter", direction_deg=180)
    scene = write_small_scene(tmp_path / "again", seed=12)
    delivery = read_delivery(scene.metadata)
    only = tuple(b.model_copy(update={"used": b.role == "nir"}) for b in delivery.bands)
    alone = add_scene(small_study.id, "One band", delivery.model_copy(update={"bands": only}))
    with pytest.raises(BadSettingsError, match="nothing to sharpen"):
        make(small_study, "sharpen", alone.id)
