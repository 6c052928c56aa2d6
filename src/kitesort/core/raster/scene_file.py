"""Keep a scene: all bands as float32, not-a-number where not usable."""

from collections.abc import Mapping
from concurrent.futures import Executor
from dataclasses import dataclass
from functools import partial
from pathlib import Path

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling

from kitesort.core.bands import UNITS, Band
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.grid import Window
from kitesort.core.raster.keeping import BLOCK_SIZE, Contents, Layout, Target, keep
from kitesort.core.raster.protocol import Block, Raster


@dataclass(frozen=True)
class KeptScene:
    """How many pixels were valid, of how many."""

    n_valid: int
    n_pixels: int


def write_scene(
    raster: Raster,
    path: Path,
    *,
    tags: Mapping[str, str] | None = None,
    executor: Executor | None = None,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> KeptScene:
    """Compute all bands and keep them at ``path``, complete and verified, or not at all.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    target, counter = scene_target(raster.bands, path, tags)
    keep(raster, [target], executor=executor, block_size=block_size, watch=watch)
    return KeptScene(counter.n_valid, raster.grid.whole.n_pixels)


def scene_target(
    bands: tuple[Band, ...],
    path: Path,
    tags: Mapping[str, str] | None = None,
    n_before: int = 0,
) -> "tuple[Target, ValidCounter]":
    """The file of some bands of a raster, so many after its first, and what counts their usable
    pixels meanwhile."""
    counter = ValidCounter()
    roles = tuple(band.role for band in bands)
    contents = Contents(
        partial(_values_of, n_before=n_before, n_bands=len(bands)),
        counter.add,
        lambda dataset: _describe(dataset, bands, tags or {}),
        lambda dataset: dataset.descriptions == roles and bool(np.isnan(dataset.nodata)),
    )
    layout = Layout(
        n_bands=len(bands),
        dtype="float32",
        nodata=np.nan,
        overviews=Resampling.average,
        compress_overviews="NONE",
        compute_share=0.6,
        working={"interleave": "band", "compress": "none"},  # read once more and then gone
        final={"LEVEL": 1, "PREDICTOR": "YES", "INTERLEAVE": "BAND"},
    )
    return Target(contents, layout, path), counter


class ValidCounter:
    """Usable pixels, summed block by block."""

    n_valid = 0

    def add(self, _: Window, values: npt.NDArray[np.float32]) -> None:
        self.n_valid += int(np.isfinite(values[0]).sum())


def _values_of(block: Block, n_before: int, n_bands: int) -> npt.NDArray[np.float32]:
    """Values (bands, rows, columns), NaN where a band is not usable."""
    return block.values[n_before : n_before + n_bands]


def _describe(
    dataset: rasterio.io.DatasetWriter, bands: tuple[Band, ...], tags: Mapping[str, str]
) -> None:
    dataset.update_tags(**tags)
    for i, band in enumerate(bands, start=1):
        dataset.set_band_description(i, band.role)
        dataset.set_band_unit(i, UNITS.get(band.quantity, ""))
        dataset.update_tags(i, quantity=band.quantity)
        if band.wavelength_um is not None:
            dataset.update_tags(i, wavelength_um=f"{band.wavelength_um:g}")
