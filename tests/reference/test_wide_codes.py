"""Class codes of two bytes: what is done to a map knows classes, not how large their codes are.

Every step of tidying is done to a map and to the same map with larger codes in the same order: the
results are the same but for the codes.
"""

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
import rasterio

from kitesort.core.engine import UNWATCHED
from kitesort.core.legend import UNCLASSIFIED, LegendEntry
from kitesort.core.objects.polygons import to_polygons
from kitesort.core.raster.class_file import class_bands, write_class_map
from kitesort.core.raster.patches import pieces_by_code
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from kitesort.core.tidy.registry import TIDYINGS
from support.arrays import ArrayRaster
from support.code_maps import (
    LEGEND,
    MAP,
    SCENE,
    SHARES,
    Codes,
    context_of,
    make_codes,
    raster_of,
    read,
    tidied,
)

WIDE = {1: 3, 2: 254, 4: 311, 7: 65_535}
TABLE = np.arange(65_536, dtype=np.uint16)
TABLE[list(WIDE)] = list(WIDE.values())
WIDE_LEGEND = (
    *(LegendEntry(WIDE[e.code], e.name, e.colour) for e in LEGEND if e != UNCLASSIFIED),
    UNCLASSIFIED,
)


class WideRaster(ArrayRaster):
    bands = class_bands(WIDE_LEGEND)


def wide_raster(codes: Codes) -> Raster:
    return WideRaster(TABLE[codes][None].astype(np.float32), codes > 0, ("class",))


def widened(settings: Any) -> Any:
    """Settings with the other codes, wherever they stand."""
    if isinstance(settings, dict):
        return {key: widened(value) for key, value in settings.items()}
    if isinstance(settings, list):
        return [widened(value) for value in settings]
    return WIDE.get(settings, settings)


CORNERS = [(400_050, 4_999_950), (400_500, 4_999_900), (400_300, 4_999_550), (400_050, 4_999_950)]
OUTLINE = {"type": "Polygon", "coordinates": [CORNERS]}
RED = {"layer": {"scene_id": SCENE, "role": "red"}, "relation": "below", "value": 0.4}
OTHER = {"layer": {"scene_id": MAP, "role": "class"}, "relation": "is not", "value": 4}
NEW = {"code": 500, "name": "Quarry", "colour": "#aa8866"}


@pytest.mark.parametrize(
    ("operation", "by_code", "plain"),
    [
        ("majority", {"changing": [2, 7], "winning": [1, 4]}, {"window_px": 5}),
        ("majority", {}, {"shape": "round", "rule": "minority", "shares_id": SHARES}),
        ("sieve", {"classes": [4, 7]}, {"least_px": 6}),
        ("sieve", {}, {"least_px": 9, "neighbours": "8"}),
        ("fill", {}, {"furthest_px": 4, "holes_px": 5}),
        ("fill", {}, {"furthest_px": 2, "shares_id": SHARES}),
        ("recode", {"table": [{"code": 7, "to": 2}, {"code": 1, "to": 255}]}, {}),
        ("rules", {"rules": [{"classes": [4], "becomes": {"code": 7}}]}, {}),
        ("scores", {}, {"shares_id": SHARES, "rule": "field"}),
        ("scores", {}, {"shares_id": SHARES, "rule": "average"}),
    ],
)
def test_steps_know_classes_and_not_codes(
    operation: str, by_code: dict[str, Any], plain: dict[str, Any]
) -> None:
    codes = make_codes()
    expected = TABLE[tidied(operation, codes, **by_code, **plain)]
    spec, raster, context = TIDYINGS[operation], wide_raster(codes), context_of(codes)
    given = validate_settings(spec, widened(by_code) | plain)
    made = spec.open((raster,), spec.prepare((raster,), given, context, UNWATCHED), context)
    found = read(made, made.grid.whole)
    assert np.array_equal(found, expected)
    assert not np.array_equal(found, TABLE[codes]), "the step does something"


def test_rules_and_edits_bring_wide_codes_in() -> None:
    codes = make_codes()
    for operation, settings in (
        ("rules", {"rules": [{"conditions": [RED, OTHER], "becomes": NEW}]}),
        ("edits", {"edits": [{"outline": OUTLINE, "becomes": NEW, "note": "seen"}]}),
    ):
        spec, context = TIDYINGS[operation], context_of(codes)
        given = validate_settings(spec, settings)
        made = spec.open((raster_of(codes),), given, context)
        found = read(made, made.grid.whole)
        changed = found != codes
        assert changed.any() and not changed.all()
        assert set(found[changed].tolist()) == {500}
        assert LegendEntry(500, "Quarry", "#aa8866") in made.bands[0].legend


def test_a_kept_map_has_two_bytes_where_codes_need_them(tmp_path: Path) -> None:
    codes = make_codes(3, (60, 83))
    path = tmp_path / "wide.tif"
    result = write_class_map(wide_raster(codes), WIDE_LEGEND, path)
    assert result.pixels == by_code(TABLE[codes])
    with rasterio.open(path) as dataset:
        assert dataset.dtypes == ("uint16",) and dataset.nodata == 0
        assert np.array_equal(dataset.read(1), TABLE[codes])
        colours = dataset.colormap(1)
        assert all(colours[e.code][:3] == e.rgb for e in WIDE_LEGEND)
        assert dataset.tags(1)["class_65535"] == "Class 7"


def test_patches_and_polygons_are_the_same() -> None:
    codes = make_codes(5)
    narrow, wide = (
        to_polygons(raster, 15.0, UNWATCHED) for raster in (raster_of(codes), wide_raster(codes))
    )
    assert np.array_equal(TABLE[narrow.codes], wide.codes)
    assert np.array_equal(narrow.shapes, wide.shapes)
    pieces = pieces_by_code(codes)
    assert np.array_equal(pieces[list(WIDE)], pieces_by_code(TABLE[codes])[list(WIDE.values())])


def by_code(codes: npt.NDArray[np.uint16]) -> dict[int, int]:
    found, n = np.unique(codes, return_counts=True)
    return dict(zip(found.tolist(), n.tolist(), strict=True))
