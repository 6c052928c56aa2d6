"""Patches below a size go to the class around them."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field

from kitesort.core.engine import Watch
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Window
from kitesort.core.legend import (
    MOST_CLASSES,
    N_CODES,
    NODATA_CODE,
    UNCLASSIFIED_CODE,
    CodeArray,
    CodesOfTheMap,
)
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import codes_in, flags, legend_of, require_codes
from kitesort.core.raster.neighbourhood import Around, NativeRaster
from kitesort.core.raster.patches import code_of_patches, label_patches, measure_borders
from kitesort.core.raster.protocol import Float32Array, Raster, roles_of
from kitesort.core.settings import Settings, titled

LARGEST = 400  # pixels: to know whether a patch is smaller, as many around have to be looked at
NATIVE_SIDE = 2048


class SieveSettings(Settings):
    least_px: int = Field(
        4,
        ge=2,
        le=LARGEST,
        title="Least size",
        description="In pixels: patches with fewer go to the class with which they share the "
        "longest border.",
    )
    least_ha: float = Field(
        0.0,
        ge=0,
        le=1e6,
        title="Or in hectares",
        description="On the ellipsoid, in the middle of the map; 0: as many pixels as above.",
    )
    neighbours: Literal["4", "8"] = Field(
        "4",
        title="Hang together",
        description="What makes pixels of one class one patch.",
        json_schema_extra=titled({"4": "at sides", "8": "at sides and corners"}),
    )
    classes: CodesOfTheMap = Field(
        (),
        max_length=MOST_CLASSES + 1,
        title="Only patches of",
        description="None chosen means all.",
        json_schema_extra={"widget": "class codes"},
    )


def sieve(codes: CodeArray, least: int, diagonal: bool, only: tuple[int, ...]) -> CodeArray:
    """Codes (rows, cols) without patches of fewer than ``least`` pixels: each takes the class with
    which it shares the longest border, the lower code of equals, counted along sides with patches
    that are large enough. One that touches none of these stays, and so do pixels without data.
    """
    labels = np.empty(codes.shape, np.int32)
    n = label_patches(codes, diagonal, labels)
    sizes = np.bincount(labels.reshape(-1), minlength=n)
    of_patch = code_of_patches(codes, labels, n)
    wanted = flags(only)
    wanted[NODATA_CODE] = False
    is_small = (sizes < least) & (of_patch != NODATA_CODE)
    small = np.where(is_small, np.cumsum(is_small) - 1, -1).astype(np.int32)
    present = np.unique(of_patch)
    present = present[(present != NODATA_CODE) & (present != UNCLASSIFIED_CODE)]
    if not is_small.any() or not len(present):
        return codes
    place = np.full(N_CODES, -1, np.int32)
    place[present] = np.arange(len(present))
    borders = np.zeros((int(is_small.sum()), len(present)), np.int32)
    measure_borders(codes, labels, small, flags(()), place, borders)
    became = np.where(borders.any(axis=1), present[borders.argmax(axis=1)], NODATA_CODE)
    new = of_patch.copy()
    goes = is_small & wanted[of_patch]
    target = became[small[goes]]
    new[goes] = np.where(target == NODATA_CODE, of_patch[goes], target)
    return new[labels]


@dataclass(frozen=True)
class _Sieve:
    """Picklable."""

    least: int
    diagonal: bool
    only: tuple[int, ...]

    def __call__(self, around: Around) -> Float32Array:
        found = sieve(codes_in(around.block), self.least, self.diagonal, self.only)
        return around.pick(found[None].astype(np.float32))


def _prepare(raster: Raster, settings: SieveSettings, _: Context, _watch: Watch) -> SieveSettings:
    """Hectares become pixels, of which the recipe speaks."""
    if settings.least_ha == 0:
        return settings
    grid = raster.grid
    middle = Window(grid.height // 2, grid.width // 2, 1, 1)
    each = float(pixel_areas_ha(grid, middle)[0, 0])
    least = math.ceil(settings.least_ha / each - 1e-9)
    return SieveSettings.model_validate(
        settings.model_dump() | {"least_px": max(least, 2), "least_ha": 0.0}
    )


def _open(raster: Raster, settings: SieveSettings, _: Context) -> Raster:
    require_codes(legend_of(raster), settings.classes, "Only patches of")
    # A patch of fewer pixels lies within as many of each of its own; so does one beside it.
    halo = 2 * settings.least_px + 1
    act = _Sieve(settings.least_px, settings.neighbours == "8", settings.classes)
    return NativeRaster(
        raster, roles_of(raster), raster.bands, (halo, halo), act, f"sieve {settings}",
        largest=NATIVE_SIDE,
    )  # fmt: skip


SPEC = Operation(
    id="sieve",
    version=1,
    station="tidy",
    title="Sieve",
    short="sieved",
    good_for="Patches that are too small to be drawn, without touching the edges of large ones.",
    source="Connected components; the longest shared border decides, the lower code of equals",
    settings=SieveSettings,
    open=of_one(_open),
    prepare=of_one(_prepare),
    say=lambda s: f"patches below {s.least_px} pixels taken out",
    takes=frozenset({"classes"}),
    native_side=NATIVE_SIDE,
)
