"""Ratios, indices and breaks on the demo's covers, whose truth is known: what practice says of
water, vegetation and dry ground must come out of them.

Source: common practice, as noted in ``checks.md`` ("Water …", "Green vegetation …", "Dry sand and
rock …", "Normalised indices …"); the numbers of the covers are invented data, their order is not.
"""

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.derive.break_start import start_table
from kitesort.core.derive.breaks import classify_values
from kitesort.core.derive.coefficients import parse_table
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from kitesort.demo.cover import BARLEY, CONIFER, MUD, PASTURE, SHINGLE, WATER
from kitesort.demo.generate import DemoStudy
from support.derived import layer_of
from support.opening import prepare_by

CLEAR = 6  # pixels away from another cover, so that no pixel is mixed


@pytest.fixture(scope="module")
def covers(demo: DemoStudy) -> npt.NDArray[np.uint8]:
    """Cover code (rows, columns) of pixels well inside a cover, 0 at borders."""
    from scipy import ndimage

    truth = demo.truth
    least = ndimage.minimum_filter(truth, CLEAR)
    most = ndimage.maximum_filter(truth, CLEAR)
    return np.where(least == most, truth, 0).astype(np.uint8)


def median_of(values: npt.NDArray[np.float32], covers: npt.NDArray[np.uint8], code: int) -> float:
    inside = values[covers == code]
    assert np.isfinite(inside).sum() > 50
    return float(np.nanmedian(inside))


def test_ratios_tell_water_plants_and_dry_ground_apart(
    summer: Raster, covers: npt.NDArray[np.uint8]
) -> None:
    blue_swir = layer_of(summer, "ratio", upper="blue", lower="swir16")[0]
    nir_blue = layer_of(summer, "ratio", upper="nir", lower="blue")[0]
    swir_blue = layer_of(summer, "ratio", upper="swir16", lower="blue")[0]
    land = (PASTURE, CONIFER, BARLEY, MUD, SHINGLE)
    assert median_of(blue_swir, covers, WATER) > 3 * max(
        median_of(blue_swir, covers, code) for code in land
    ), "water: a high blue to short-wave ratio"
    for plants in (PASTURE, CONIFER):
        assert median_of(nir_blue, covers, plants) > 2 * max(
            median_of(nir_blue, covers, code) for code in (WATER, MUD, SHINGLE)
        ), "green vegetation: a high near infrared to blue ratio"
    assert median_of(swir_blue, covers, SHINGLE) > 3 * median_of(swir_blue, covers, WATER)
    assert median_of(swir_blue, covers, BARLEY) > median_of(swir_blue, covers, CONIFER)


def test_indices_rise_with_what_they_are_named_for(
    summer: Raster, covers: npt.NDArray[np.uint8]
) -> None:
    ndvi = layer_of(summer, "index", index="ndvi")[0]
    ndwi = layer_of(summer, "index", index="ndwi")[0]
    mndwi = layer_of(summer, "index", index="mndwi")[0]
    bands = summer.read(summer.grid.whole, ("nir", "red")).values
    lit = (bands >= 0).all(axis=0) & np.isfinite(ndvi)  # haze and noise leave some below zero
    assert lit.mean() > 0.9 and ndvi[lit].min() >= -1 and ndvi[lit].max() <= 1
    assert median_of(ndvi, covers, PASTURE) > median_of(ndvi, covers, BARLEY)
    assert median_of(ndvi, covers, BARLEY) > median_of(ndvi, covers, MUD)
    assert median_of(ndvi, covers, WATER) < 0 < median_of(ndvi, covers, CONIFER)
    for index in (ndwi, mndwi):
        assert median_of(index, covers, WATER) > 0.3
        assert median_of(index, covers, PASTURE) < 0


def test_common_breaks_of_the_vegetation_index_put_covers_where_practice_does(
    summer: Raster, covers: npt.NDArray[np.uint8]
) -> None:
    """Breaks at 0, 0.1, 0.25, 0.4, lower limit included; above 0 counts as vegetated."""
    ndvi = layer_of(summer, "index", index="ndvi")[0]
    table = start_table(ndvi[np.isfinite(ndvi)], 5, "vegetation index", "green")
    codes = classify_values(table, ndvi)

    def share(cover: int, code: int) -> float:
        inside = (covers == cover) & np.isfinite(ndvi)
        return float((codes[inside] == code).mean())

    assert share(WATER, 1) > 0.95, "not vegetated"
    assert share(PASTURE, 5) > 0.95, "dense"
    assert share(SHINGLE, 5) < 0.01 and share(MUD, 5) < 0.01


def test_tasseled_cap_axes_mean_what_they_are_called(
    summer: Raster, covers: npt.NDArray[np.uint8]
) -> None:
    """With coefficients of a like sensor as the analyst's own table: bright shingle, green
    pasture, wet mud and water (by the sign and order of the axes only)."""
    table = parse_table(
        "x blue green red nir swir16 swir22\n"
        "brightness .3029 .2786 .4733 .5599 .508 .1872\n"
        "greenness -.2941 -.243 -.5424 .7276 .0713 -.1608\n"
        "wetness .1511 .1973 .3283 .3407 -.7117 -.4559"
    )
    bright, green, wet = layer_of(summer, "tasseled-cap", coefficients="own", table=table)
    assert median_of(bright, covers, SHINGLE) > median_of(bright, covers, MUD)
    assert median_of(bright, covers, MUD) > median_of(bright, covers, WATER)
    assert median_of(green, covers, PASTURE) > 0.1 > median_of(green, covers, SHINGLE)
    assert median_of(wet, covers, WATER) > median_of(wet, covers, MUD)
    assert median_of(wet, covers, MUD) > median_of(wet, covers, BARLEY)


def test_few_components_hold_nearly_all(summer: Raster) -> None:
    """Common practice: bands of one scene say much the same."""
    spec = DERIVATIONS["principal-components"]
    context = Context(lambda *_: summer)
    found = prepare_by(spec, summer, validate_settings(spec, {}), context)
    shares = np.array(found.eigenvalues) / sum(found.eigenvalues)
    assert len(shares) == 8 and shares[:3].sum() > 0.95


def test_texture_tells_wood_from_pasture(summer: Raster, covers: npt.NDArray[np.uint8]) -> None:
    """The demo's wood is strongly textured, its pasture weakly: relative to their brightness the
    order must show in the contrast."""
    (contrast,) = layer_of(
        summer, "texture", role="nir", measures=["contrast"], window_px=7, levels=32,
        low=0.0, high=0.6,
    )  # fmt: skip
    nir = summer.read(summer.grid.whole, ("nir",)).values[0]
    relative = {
        code: median_of(contrast, covers, code) / median_of(nir, covers, code) ** 2
        for code in (CONIFER, PASTURE)
    }
    assert relative[CONIFER] > relative[PASTURE]
