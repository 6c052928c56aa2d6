import json
from typing import Any

import numpy as np
import pytest

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.training import (
    DrawnSite,
    SchemeClass,
    Training,
    collect_samples,
    require_enough_pixels,
    train,
)
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import (
    BadSettingsError,
    DuplicateNameError,
    NotFoundError,
    TooFewClassesError,
    TooFewPixelsError,
)
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import LayerLeaf, Node, fingerprint, read_recipe, sentence_of
from support.small_scene import BOW_TIE, COLOURS, GOOD_SITES, NAMES, SmallScene, rectangle


@pytest.fixture(scope="module")
def raster(small_scene: SmallScene) -> Raster:
    return open_delivery(read_delivery(small_scene.metadata))


def training(**changes: Any) -> Training:
    values: dict[str, Any] = {
        "excluded": ("fill", "cloud_shadow"),
        "roles": ("blue", "red", "nir", "swir16"),
        "classes": tuple(
            SchemeClass(code=c, name=NAMES[c], colour=COLOURS[c]) for c in sorted(NAMES)
        ),
        "sites": tuple(DrawnSite(code=c, geometry=g) for c, g in GOOD_SITES.items()),
        "method": "maximum-likelihood",
        "method_version": 1,
        "settings": {},
    }
    return Training(**values | changes)


def map_of(changed: Training, layer_id: int = 1, name: str = "June pass") -> Node:
    """The recipe of the class map."""
    return Node(
        operation="classify",
        version=1,
        settings=changed.model_dump(mode="json"),
        inputs=(LayerLeaf(layer_id=layer_id, name=name),),
    )


def test_recipe_survives_being_stored() -> None:
    first = map_of(training(settings={"reject_share": 0.01}))
    again = read_recipe(json.loads(first.model_dump_json()))
    assert again == first
    assert fingerprint(again) == fingerprint(first)


@pytest.mark.parametrize(
    "changes",
    [
        {"seed": 1},
        {"roles": ("red", "nir")},
        {"settings": {"priors": "pixels"}},
        {"sites": training().sites[:3]},
        {"excluded": ()},
        {"sites": (DrawnSite(code=2, geometry=GOOD_SITES[1]), *training().sites[1:])},
        {"method_version": 2},
    ],
)
def test_every_input_is_in_the_fingerprint(changes: dict[str, Any]) -> None:
    usual = fingerprint(map_of(training()))
    assert fingerprint(map_of(training(**changes))) != usual
    assert fingerprint(map_of(training(), layer_id=2)) != usual


@pytest.mark.parametrize(
    "changes",
    [
        {"classes": tuple(c.model_copy(update={"name": f"{c.code}"}) for c in training().classes)},
        {"classes": tuple(c.model_copy(update={"colour": "#123456"}) for c in training().classes)},
    ],
)
def test_names_and_colours_are_no_pixels(changes: dict[str, Any]) -> None:
    changed = map_of(training(**changes), name="Called otherwise")
    assert fingerprint(changed) == fingerprint(map_of(training()))
    assert changed != map_of(training()), "it looks otherwise"


def test_recipe_reads_as_a_sentence() -> None:
    assert sentence_of(map_of(training())) == (
        "June pass classified by maximum likelihood on 4 bands (blue, red, nir, swir16), "
        "from 4 training sites of 4 classes; fill, cloud shadow left out."
    )


def test_samples_are_the_same_in_whatever_order_sites_were_drawn(raster: Raster) -> None:
    backwards = training(sites=training().sites[::-1])
    assert backwards.sites_fingerprint == training().sites_fingerprint
    one, _ = collect_samples(training(), raster)
    two, _ = collect_samples(backwards, raster)
    assert one.fingerprint == two.fingerprint
    assert np.array_equal(one.values, two.values) and np.array_equal(one.sites, two.sites)


def test_samples_know_where_they_were_taken(raster: Raster) -> None:
    samples, _ = collect_samples(training(), raster)
    whole = raster.read(raster.grid.whole, samples.roles).values
    assert np.array_equal(whole[:, samples.rows, samples.cols].T, samples.values)
    assert samples.sites.min() == 0 and samples.sites.max() == len(training().sites) - 1
    for site in range(4):
        assert len({*samples.codes[samples.sites == site].tolist()}) == 1
    other = training(sites=training().sites[:3])
    assert collect_samples(other, raster)[0].fingerprint != samples.fingerprint


def test_legend_ends_with_unclassified() -> None:
    assert [e.code for e in training().legend] == [1, 2, 3, 4, 255]


def test_same_recipe_same_pixels(raster: Raster) -> None:
    maps = []
    for _ in range(2):
        samples, _ = collect_samples(training(), raster)
        mapped = class_map_raster(raster, train(training(), samples), training().legend)
        maps.append(mapped.read(raster.grid.whole).values)
    assert np.array_equal(*maps, equal_nan=True)


def test_map_of_the_small_scene_is_nearly_all_right(
    raster: Raster, small_scene: SmallScene
) -> None:
    samples, remarks = collect_samples(training(), raster)
    assert remarks == []
    block = class_map_raster(raster, train(training(), samples), training().legend).read(
        raster.grid.whole
    )
    right = block.values[0] == small_scene.truth
    assert right[block.valid].mean() > 0.995
    assert np.isnan(block.values[0][~block.valid]).all(), "what is not valid has no class"


def test_bad_sites_are_told_and_the_rest_goes_on(raster: Raster) -> None:
    sites = (
        *training().sites,
        DrawnSite(code=1, geometry=BOW_TIE),
        DrawnSite(code=2, geometry=rectangle(0, 900, 5, 5)),
        DrawnSite(code=3, geometry=rectangle(0, 0, 3, 3)),
    )
    samples, remarks = collect_samples(training(sites=sites), raster)
    assert len(samples.codes) == 4 * 180
    assert [remark.split(". ")[0] for remark in remarks] == [
        f"A site of {NAMES[code]} takes no part" for code in (1, 2, 3)
    ]


def test_no_site_at_all(raster: Raster) -> None:
    with pytest.raises(TooFewClassesError, match="no training pixel"):
        collect_samples(training(sites=()), raster)


def test_one_class_is_not_enough(raster: Raster) -> None:
    lonely = training(sites=training().sites[:1])
    samples, _ = collect_samples(lonely, raster)
    with pytest.raises(TooFewClassesError, match="at least two classes"):
        train(lonely, samples)


def test_class_whose_sites_hold_nothing_is_named(raster: Raster) -> None:
    sites = (*training().sites[:3], DrawnSite(code=4, geometry=rectangle(0, 0, 3, 3)))
    empty = training(sites=sites)
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
    wrong = training(settings=settings)
    samples, _ = collect_samples(wrong, raster)
    with pytest.raises(BadSettingsError, match=words):
        train(wrong, samples)


def test_recipe_of_another_version(raster: Raster) -> None:
    old = training(method_version=99)
    samples, _ = collect_samples(old, raster)
    with pytest.raises(BadSettingsError, match="version 99"):
        train(old, samples)


def test_unknown_method(raster: Raster) -> None:
    strange = training(method="tea-leaves")
    samples, _ = collect_samples(strange, raster)
    with pytest.raises(NotFoundError, match="tea-leaves"):
        train(strange, samples)


def test_two_classes_of_one_name(raster: Raster) -> None:
    double = (*training().classes, SchemeClass(code=5, name="Water", colour="#000000"))
    samples, _ = collect_samples(training(), raster)
    with pytest.raises(DuplicateNameError, match="same name"):
        train(training(classes=double), samples)


def test_site_of_a_class_that_is_not_in_the_scheme(raster: Raster) -> None:
    samples, _ = collect_samples(training(), raster)
    with pytest.raises(BadSettingsError, match="not in the class scheme"):
        train(training(classes=training().classes[:3]), samples)
