"""Scenes described by STAC items, of both versions of the specification."""

import json
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import pytest

from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.recognise import recognise
from support.catalogue import make_item
from support.deliveries import numbers, write_raster

Change = Callable[[dict[str, Any]], None]


def write_item(folder: Path, change: Change = lambda _: None) -> dict[str, Any]:
    """A catalogue's item and its files in one folder, as they are after they were fetched."""
    item = make_item(folder, "A", "2023-06-10", 0.0)
    for asset in item["assets"].values():
        asset["href"] = "./" + asset["href"].split("/")[-1]
    change(item)
    (folder / "A" / "item.json").write_text(json.dumps(item))
    return item


def to_version_1_1(item: dict[str, Any]) -> None:
    """STAC 1.1 has one list of bands with prefixed fields instead of two lists."""
    item["stac_version"] = "1.1.0"
    for asset in item["assets"].values():
        optical = asset.pop("eo:bands", None)
        numeric = asset.pop("raster:bands", None)
        if optical:
            asset["bands"] = [
                {
                    "name": o["name"],
                    "eo:common_name": o["common_name"],
                    "eo:center_wavelength": o["center_wavelength"],
                    "raster:scale": n["scale"],
                    "raster:offset": n["offset"],
                    "nodata": n["nodata"],
                }
                for o, n in zip(optical, numeric, strict=True)
            ]


@pytest.mark.parametrize("change", [lambda _: None, to_version_1_1], ids=["1.0", "1.1"])
def test_both_versions_say_the_same(tmp_path: Path, change: Change) -> None:
    write_item(tmp_path, change)
    [found] = recognise(take_inventory(tmp_path)).scenes
    scene = found.scene
    assert found.questions == ()
    assert (scene.name, scene.sensor, scene.acquired) == ("A", "Made-up", date(2023, 6, 10))
    assert scene.roles == ("blue", "red", "nir")
    assert [b.wavelength_um for b in scene.bands] == pytest.approx([0.5, 0.6, 0.7])
    assert (scene.fill_value, scene.sun_elevation_deg) == (0, 55)
    assert scene.flag_names == ("fill", "cloud")
    raster = open_delivery(scene)
    block = raster.read(raster.grid.whole)
    assert block.values[2, 10, 10] == pytest.approx(3000 * 0.0001 - 0.05)
    assert not block.valid[0].any(), "fill"
    assert not block.valid[5:8, 5:8].any(), "cloud, by the bit field"


def test_a_band_file_of_several_bands(tmp_path: Path) -> None:
    import numpy as np

    write_raster(tmp_path / "all.tif", np.stack([numbers(100 * i, 9) for i in (1, 2)]), 10)
    item = {
        "type": "Feature", "stac_version": "1.0.0", "id": "two",
        "properties": {"start_datetime": "2023-02-03T00:00:00Z", "datetime": None},
        "assets": {"all": {"href": "all.tif", "eo:bands": [
            {"name": "x", "common_name": "red"}, {"name": "y", "common_name": "nir"}]}},
    }  # fmt: skip
    (tmp_path / "item.json").write_text(json.dumps(item))
    [found] = recognise(take_inventory(tmp_path)).scenes
    assert [(b.role, b.index) for b in found.scene.bands] == [("red", 1), ("nir", 2)]
    assert found.scene.acquired == date(2023, 2, 3)
    assert found.scene.quantity_words == "numbers", "no scale is told, and none is guessed"


def test_thermal_and_panchromatic_bands_are_left_out(tmp_path: Path) -> None:
    def change(item: dict[str, Any]) -> None:
        item["assets"]["B3"]["eo:bands"][0]["common_name"] = "lwir11"

    write_item(tmp_path, change)
    [found] = recognise(take_inventory(tmp_path)).scenes
    assert found.scene.roles == ("blue", "red")
    assert "thermal" in found.scene.bands[2].reason


def test_what_an_item_does_not_tell_is_asked(tmp_path: Path) -> None:
    def change(item: dict[str, Any]) -> None:
        del item["assets"]["B1"]["eo:bands"][0]["common_name"]
        del item["properties"]["datetime"]

    write_item(tmp_path, change)
    [found] = recognise(take_inventory(tmp_path)).scenes
    assert len(found.questions) == 2
    assert "what each band sees" in found.questions[0] and "date" in found.questions[1]


@pytest.mark.parametrize(
    "change",
    [
        lambda item: item.pop("properties"),
        lambda item: item.pop("assets"),
        lambda item: item["properties"].update({"view:sun_elevation": "high"}),
        lambda item: item["properties"].update({"datetime": "yesterday at noon"}),
        lambda item: item["assets"]["B1"]["raster:bands"][0].update({"scale": "much"}),
        lambda item: [a.update({"href": "../../etc/" + a["href"][2:].replace("A_", "Z_")})
                      for a in item["assets"].values()],
    ],
)  # fmt: skip
def test_items_that_cannot_be_understood(tmp_path: Path, change: Change) -> None:
    write_item(tmp_path, change)
    found = recognise(take_inventory(tmp_path))
    assert any("item.json" in problem for problem in found.problems)
    assert all(r.questions for r in found.scenes), "the files are left as loose ones"


@pytest.mark.parametrize(
    ("text", "problems"),
    [
        ('{"stac_version": "1.0.0", "type": "Feat', 1),
        ('{"stac_version": "1.0.0", "type": "Catalog"}', 0),
        ('{"hello": 1}', 0),
        ("[" * 100_000 + '"stac_version"', 1),
    ],
)
def test_other_json_is_left_alone(tmp_path: Path, text: str, problems: int) -> None:
    (tmp_path / "x.json").write_text(text)
    found = recognise(take_inventory(tmp_path))
    assert len(found.problems) == problems and found.scenes == ()
