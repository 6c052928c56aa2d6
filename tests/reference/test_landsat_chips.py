"""Real Landsat chips: the tiny files that Debian's package r-cran-satellite carries.

``./test`` fetches the package and names its data folder in KITESORT_OPEN_DATA; none of the
package's code is used.
"""

import math
from datetime import date
from pathlib import Path

import numpy as np
import pytest
import rasterio

from kitesort.core.delivery.formats.landsat import COLLECTION_1
from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import DeliveredScene, StackOptions
from kitesort.core.grid import Grid
from kitesort.core.raster.protocol import roles_of

OLI = "LC08_L1TP_195025_20130707_20170503_01_T1"
ETM = "LE07_L1TP_195025_20010730_20170204_01_T1"


def numbers_of(chips: Path, name: str, band: str) -> np.ndarray:
    with rasterio.open(chips / "extdata" / f"{name}_{band}.TIF") as dataset:
        return np.asarray(dataset.read(1))


def test_both_sensors_are_recognised(scenes: dict[str, DeliveredScene]) -> None:
    oli, etm = scenes[OLI], scenes[ETM]
    assert (oli.sensor, oli.acquired) == ("Landsat 8, level 1", date(2013, 7, 7))
    assert oli.sun_elevation_deg == pytest.approx(58.9967518)
    assert oli.roles == ("coastal", "blue", "green", "red", "nir", "swir16", "swir22")
    assert etm.roles == ("blue", "green", "red", "nir", "swir16", "swir22")
    left_out = {b.name: b.reason for b in oli.bands if not b.used}
    assert set(left_out) == {"B8", "B9", "B10", "B11"} and all(left_out.values())
    assert (oli.saturated_value, etm.saturated_value) == (65535, 255)


@pytest.mark.parametrize(
    ("name", "band", "role", "gain", "offset", "sun"),
    [
        # Factors as they stand in the scenes' own metadata text.
        (OLI, "B4", "red", 2.0000e-05, -0.100000, 58.99675180),
        (OLI, "B5", "nir", 2.0000e-05, -0.100000, 58.99675180),
        (ETM, "B1", "blue", 1.2384e-03, -0.011098, 53.87765310),
        (ETM, "B4", "nir", 2.9302e-03, -0.018348, 53.87765310),
    ],
)
def test_reflectance_by_the_metadata_s_own_factors(
    chips: Path, scenes: dict[str, DeliveredScene], name: str, band: str, role: str, gain: float,
    offset: float, sun: float,
) -> None:  # fmt: skip
    """Source: data users' handbooks of the Landsat missions, (gain × DN + offset) / sin(sun)."""
    raster = open_delivery(scenes[name])
    block = raster.read(raster.grid.whole, (role,))
    expected = (gain * numbers_of(chips, name, band) + offset) / math.sin(math.radians(sun))
    assert block.valid.mean() > 0.9
    assert block.values[0][block.valid] == pytest.approx(expected[block.valid], rel=1e-5)


def test_radiance_by_the_metadata_s_own_factors(
    chips: Path, scenes: dict[str, DeliveredScene]
) -> None:
    raster = open_delivery(scenes[OLI], quantity="radiance")
    values = raster.read(raster.grid.whole, ("red",)).values[0]
    expected = 9.6653e-03 * numbers_of(chips, OLI, "B4") - 48.32638
    assert values == pytest.approx(expected, rel=1e-5)


def test_a_thermal_band_is_temperature_beside_reflectance(
    chips: Path, scenes: dict[str, DeliveredScene]
) -> None:
    """Factors and constants as they stand in the scene's own metadata text; the formula is that of
    the data users' handbook of Landsat 8 (from memory). One thermal band leaves all others what
    they were."""
    bands = tuple(b.model_copy(update={"used": b.role in ("red", "lwir11")})
                  for b in scenes[OLI].bands)  # fmt: skip
    scene = scenes[OLI].model_copy(update={"bands": bands})
    raster = open_delivery(scene)
    assert {b.role: b.quantity for b in raster.bands} == {
        "red": "reflectance",
        "lwir11": "temperature",
    }
    block = raster.read(raster.grid.whole)
    alone = open_delivery(scenes[OLI])
    assert np.array_equal(
        block.values[0], alone.read(alone.grid.whole, ("red",)).values[0], equal_nan=True
    )
    radiance = 3.3420e-04 * numbers_of(chips, OLI, "B10") + 0.1
    expected = 1321.0789 / np.log(774.8853 / radiance + 1)
    inside = ~np.isnan(block.values[1])
    assert block.values[1][inside] == pytest.approx(expected[inside], abs=1e-3)
    assert 290 < np.nanmean(block.values[1]) < 310, "a July morning in Hesse"


def test_reflectance_and_radiance_agree_through_the_sun(
    scenes: dict[str, DeliveredScene],
) -> None:
    """An independent way: rho = pi L d² / (E0 sin sun). E0 is not in the metadata, but one E0 must
    explain every pixel of a band, for this is how the provider made the factors."""
    scene = scenes[OLI]
    rho, radiance = open_delivery(scene), open_delivery(scene, quantity="radiance")
    whole, distance = rho.grid.whole, 1.0166988
    sine = math.sin(math.radians(58.99675180))
    one = rho.read(whole, ("red",)).values[0].astype(float)
    two = radiance.read(whole, ("red",)).values[0].astype(float)
    solar = math.pi * two * distance**2 / (one * sine)
    assert solar.std() / solar.mean() < 1e-3
    assert 1500 < solar.mean() < 1620, "about 1.55 kW/m² µm in the red (from memory)"


def test_quality_bits_of_the_chips(chips: Path, scenes: dict[str, DeliveredScene]) -> None:
    """Collection 1: 2720 is clear land by the provider's table (from memory); no chip has fill."""
    flags = numbers_of(chips, OLI, "BQA").astype(np.uint32)
    by_name = {f.name: f for f in COLLECTION_1}
    clear = flags == 2720
    assert clear.mean() > 0.9
    assert not by_name["fill"].applies_to(flags).any()
    for meaning in ("cloud", "cloud_shadow", "saturated", "snow", "cirrus"):
        assert not by_name[meaning].applies_to(flags[clear]).any()
    raster = open_delivery(scenes[OLI])
    cloudy = by_name["cloud"].applies_to(flags)
    assert not raster.read(raster.grid.whole).valid[cloudy].any()


def test_fifteen_metres_against_thirty(scenes: dict[str, DeliveredScene]) -> None:
    """The panchromatic band is finer and begins half a coarse pixel away: nothing is taken for
    aligned because it has the right number of pixels."""
    scene = scenes[OLI]
    bands = tuple(b.model_copy(update={"used": b.role in ("red", "pan")}) for b in scene.bands)
    both = scene.model_copy(update={"bands": bands})
    fine = open_delivery(both)
    pan, red = both.file_of("pan").grid, both.file_of("red").grid
    assert (pan.pixel_size, red.pixel_size) == ((15, 15), (30, 30))
    assert fine.grid == pan
    row, col = red.world_to_pixel(*pan.pixel_to_world(0.5, 0.5))
    values = fine.read(fine.grid.whole, ("red",)).values[0]
    raw = open_delivery(scene).read(red.whole, ("red",)).values[0]
    for r, c in ((0, 0), (11, 30), (40, 7)):
        expected = raw[math.floor(row + r / 2), math.floor(col + c / 2)]
        assert values[r, c] == expected


def test_the_coarse_grid_averages_the_fine_band(scenes: dict[str, DeliveredScene]) -> None:
    scene = scenes[OLI]
    bands = tuple(b.model_copy(update={"used": b.role in ("red", "pan")}) for b in scene.bands)
    options = StackOptions(grid="red", resampling="average")
    coarse = open_delivery(scene.model_copy(update={"bands": bands, "stack": options}))
    assert coarse.grid.pixel_size == (30, 30)
    block = coarse.read(coarse.grid.whole, ("pan", "red"))
    inside = block.valid[2:-2, 2:-2]
    assert inside.mean() > 0.9
    # Panchromatic spans green and red: on land the two go together.
    pan, red = (block.values[i, 2:-2, 2:-2][inside] for i in (0, 1))
    assert np.corrcoef(pan, red)[0, 1] > 0.9


def test_before_2014_there_are_no_reflectance_factors(chips: Path) -> None:
    found = recognise(take_inventory(chips / "testdata" / "LE7"))
    [scene] = [r.scene for r in found.scenes]
    assert scene.quantity_words == "numbers"
    assert {band.quantity for band in open_delivery(scene).bands} == {"numbers"}
    assert any("no reflectance factors" in remark for remark in scene.remarks)
    raster = open_delivery(scene, quantity="radiance")
    assert isinstance(raster.grid, Grid) and "red" in roles_of(raster)
    assert raster.read(raster.grid.whole, ("red",)).values.max() < 200
