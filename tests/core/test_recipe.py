from typing import Any

import numpy as np
import pytest

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import (
    BadSettingsError,
    DuplicateNameError,
    NotFoundError,
    TooFewClassesError,
    TooFewPixelsError,
)
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import (
    ClassMapRecipe,
    RecipeClass,
    RecipeSite,
    collect_samples,
    require_enough_pixels,
    train,
)
from support.small_scene import BOW_TIE, COLOURS, GOOD_SITES, NAMES, SmallScene, rectangle


@pytest.fixture(scope="module")
def raster(small_scene: SmallScene) -> Raster:
    return open_delivery(read_delivery(small_scene.metadata))


def recipe(**changes: Any) -> ClassMapRecipe:
    values: dict[str, Any] = {
        "scene_id": 1,
        "scene_name": "June pass",
        "excluded": ("fill", "cloud_shadow"),
        "roles": ("blue", "red", "nir", "swir16"),
        "classes": tuple(
            RecipeClass(code=c, name=NAMES[c], colour=COLOURS[c]) for c in sorted(NAMES)
        ),
        "sites": tuple(RecipeSite(code=c, geometry=g) for c, g in GOOD_SITES.items()),
        "method": "maximum-likelihood",
        "method_version": 1,
        "settings": {},
    }
    return ClassMapRecipe(**values | changes)


def test_recipe_survives_being_stored() -> None:
    first = recipe(settings={"reject_share": 0.01})
    again = ClassMapRecipe.model_validate_json(first.model_dump_json())
    assert again == first
    assert again.fingerprint == first.fingerprint


@pytest.mark.parametrize(
    "changes",
    [
        {"seed": 1},
        {"roles": ("red", "nir")},
        {"settings": {"priors": "pixels"}},
        {"sites": recipe().sites[:3]},
        {"excluded": ()},
        {"scene_id": 2},
        {"sites": (RecipeSite(code=2, geometry=GOOD_SITES[1]), *recipe().sites[1:])},
        {"method_version": 2},
    ],
)
def test_every_input_is_in_the_fingerprint(changes: dict[str, Any]) -> None:
    assert recipe(**changes).fingerprint != recipe().fingerprint


@pytest.mark.parametrize(
    "changes",
    [
        {"scene_name": "Called otherwise"},
        {"classes": tuple(c.model_copy(update={"name": f"{c.code}"}) for c in recipe().classes)},
        {"classes": tuple(c.model_copy(update={"colour": "#123456"}) for c in recipe().classes)},
    ],
)
def test_names_and_colours_are_no_pixels(changes: dict[str, Any]) -> None:
    changed = recipe(**changes)
    assert changed.fingerprint == recipe().fingerprint
    assert changed.version != recipe().version, "it looks otherwise"


def test_recipe_reads_as_a_sentence() -> None:
    assert recipe().sentence == (
        "June pass classified by maximum likelihood on 4 bands (blue, red, nir, swir16), "
        "from 4 training sites of 4 classes; fill, cloud shadow left out."
    )


def test_legend_ends_with_unclassified() -> None:
    assert [e.code for e in recipe().legend] == [1, 2, 3, 4, 255]


def test_same_recipe_same_pixels(raster: Raster) -> None:
    maps = []
    for _ in range(2):
        samples, _ = collect_samples(recipe(), raster)
        mapped = class_map_raster(raster, train(recipe(), samples), "x")
        maps.append(mapped.read(raster.grid.whole).values)
    assert np.array_equal(*maps)


def test_map_of_the_small_scene_is_nearly_all_right(
    raster: Raster, small_scene: SmallScene
) -> None:
    samples, remarks = collect_samples(recipe(), raster)
    assert remarks == []
    block = class_map_raster(raster, train(recipe(), samples), "x").read(raster.grid.whole)
    right = block.values[0] == small_scene.truth
    assert right[block.valid].mean() > 0.995
    assert not block.values[0][~block.valid].any(), "what is not valid has no class"


def test_bad_sites_are_told_and_the_rest_goes_on(raster: Raster) -> None:
    sites = (
        *recipe().sites,
        RecipeSite(code=1, geometry=BOW_TIE),
        RecipeSite(code=2, geometry=rectangle(0, 900, 5, 5)),
        RecipeSite(code=3, geometry=rectangle(0, 0, 3, 3)),
    )
    samples, remarks = collect_samples(recipe(sites=sites), raster)
    assert len(samples.codes) == 4 * 180
    assert [remark.split(". ")[0] for remark in remarks] == [
        f"A site of {NAMES[code]} takes no part" for code in (1, 2, 3)
    ]


def test_no_site_at_all(raster: Raster) -> None:
    with pytest.raises(TooFewClassesError, match="no training pixel"):
        collect_samples(recipe(sites=()), raster)


def test_one_class_is_not_enough(raster: Raster) -> None:
    lonely = recipe(sites=recipe().sites[:1])
    samples, _ = collect_samples(lonely, raster)
    with pytest.raises(TooFewClassesError, match="at least two classes"):
        train(lonely, samples)


def test_class_whose_sites_hold_nothing_is_named(raster: Raster) -> None:
    sites = (*recipe().sites[:3], RecipeSite(code=4, geometry=rectangle(0, 0, 3, 3)))
    empty = recipe(sites=sites)
    samples, _ = collect_samples(empty, raster)
    with pytest.raises(TooFewPixelsError, match=r"Wood has sites but no usable pixel"):
        require_enough_pixels(samples, empty)


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        ({"reject_share": 0.9}, "Leave unlikely pixels unclassified"),
        ({"reject_share": "lots"}, "Leave unlikely pixels unclassified"),
        ({"priors": "guess"}, "Prior probabilities"),
        ({"window": 3}, "window"),
    ],
)
def test_settings_out_of_bounds(raster: Raster, settings: dict[str, Any], words: str) -> None:
    wrong = recipe(settings=settings)
    samples, _ = collect_samples(wrong, raster)
    with pytest.raises(BadSettingsError, match=words):
        train(wrong, samples)


def test_recipe_of_another_version(raster: Raster) -> None:
    old = recipe(method_version=99)
    samples, _ = collect_samples(old, raster)
    with pytest.raises(BadSettingsError, match="version 99"):
        train(old, samples)


def test_unknown_method(raster: Raster) -> None:
    strange = recipe(method="tea-leaves")
    samples, _ = collect_samples(strange, raster)
    with pytest.raises(NotFoundError, match="tea-leaves"):
        train(strange, samples)


def test_two_classes_of_one_name(raster: Raster) -> None:
    double = (*recipe().classes, RecipeClass(code=5, name="Water", colour="#000000"))
    samples, _ = collect_samples(recipe(), raster)
    with pytest.raises(DuplicateNameError, match="same name"):
        train(recipe(classes=double), samples)


def test_site_of_a_class_that_is_not_in_the_scheme(raster: Raster) -> None:
    samples, _ = collect_samples(recipe(), raster)
    with pytest.raises(BadSettingsError, match="not in the class scheme"):
        train(recipe(classes=recipe().classes[:3]), samples)
