"""The made-up catalogue holds what it says, and what it says agrees with its files."""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from PIL import Image

from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.recognise import recognise
from kitesort.demo.catalogue import write_catalogue
from kitesort.demo.generate import PLANS, DemoStudy


@pytest.fixture(scope="module")
def catalogue(demo: DemoStudy, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Of the study's own four passes; the further ones are made the same way."""
    folder = tmp_path_factory.mktemp("catalogue")
    write_catalogue(folder, [(p.taken, demo.metadata[p.taken.key].parent) for p in PLANS])
    return folder


def items_of(folder: Path) -> list[dict[str, Any]]:
    return [json.loads(p.read_text()) for p in sorted((folder / "items").iterdir())]


def test_an_item_for_every_pass(catalogue: Path) -> None:
    items = items_of(catalogue)
    assert [i["id"] for i in items] == sorted(p.taken.stem for p in PLANS)
    for item in items:
        assert item["type"] == "Feature" and item["stac_version"] == "1.0.0"
        assert len(item["assets"]) == 10, "eight bands, quality, quick-look"
        for asset in item["assets"].values():
            assert (catalogue / asset["href"]).is_file()


def test_cloud_cover_is_that_of_the_quality_band(catalogue: Path) -> None:
    for item in items_of(catalogue):
        with rasterio.open(catalogue / item["assets"]["quality"]["href"]) as dataset:
            flags = dataset.read(1)
        cloud = ((flags & 2) > 0)[(flags & 1) == 0].mean()
        assert item["properties"]["eo:cloud_cover"] == pytest.approx(100 * cloud, abs=0.06)


def test_footprints_lie_where_the_files_do(catalogue: Path) -> None:
    (item, *_) = items_of(catalogue)
    west, south, east, north = item["bbox"]
    # Open ocean: 960 pixels of 10 m are 9.6 km, and 720 are 7.2 km.
    assert (east - west) * 111.32 * math.cos(math.radians(south)) == pytest.approx(9.6, abs=0.3)
    assert (north - south) * 111.2 == pytest.approx(7.2, abs=0.3)
    assert -35 < west < -33 and 45 < south < 47


def test_factors_of_the_item_are_those_of_the_metadata(
    catalogue: Path, demo: DemoStudy, tmp_path: Path
) -> None:
    """The same scene recognised by its metadata text and by its item has the same reflectance."""
    stem = PLANS[2].taken.stem
    for path in (catalogue / stem).glob("*.tif"):
        (tmp_path / path.name).hardlink_to(path)
    item = next(i for i in items_of(catalogue) if i["id"] == stem)
    for asset in item["assets"].values():
        asset["href"] = "./" + asset["href"].split("/")[-1]
    (tmp_path / "item.json").write_text(json.dumps(item))
    [by_item] = recognise(take_inventory(tmp_path)).scenes
    [by_text] = recognise(take_inventory(demo.metadata["summer"].parent)).scenes
    assert by_item.questions == ()
    assert by_item.scene.roles == by_text.scene.roles
    one, two = open_delivery(by_item.scene), open_delivery(by_text.scene)
    window = one.grid.whole
    first, second = one.read(window), two.read(window)
    both = first.valid & second.valid
    assert np.abs(first.values - second.values)[:, both].max() < 1e-6
    # The item tells no value of saturation; all else is the same.
    assert (first.valid & ~second.valid).mean() < 1e-4


def test_quick_looks_are_pictures_worth_a_look(catalogue: Path) -> None:
    for item in items_of(catalogue):
        picture = np.asarray(Image.open(catalogue / item["assets"]["quicklook"]["href"]))
        assert picture.shape == (240, 320, 3)
        assert 60 < picture[picture.sum(axis=2) > 0].mean() < 200
        assert picture.std() > 25
