"""Keep a scene: all bands as float32, not-a-number where not usable."""

from collections.abc import Mapping
from concurrent.futures import Executor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling

from kitesort.core.bands import UNITS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.grid import Window
from kitesort.core.raster.keeping import BLOCK_SIZE, Contents, Layout, keep
from kitesort.core.raster.protocol import Raster, roles_of


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
    n_valid = 0

    def count(_: Window, values: npt.NDArray[np.float32]) -> None:
        nonlocal n_valid
        n_valid += int(np.isfinite(values[0]).sum())

    contents = Contents(
        raster.grid,
        _ValuesOf(raster),
        count,
        lambda dataset: _describe(dataset, raster, tags or {}),
        lambda dataset: dataset.descriptions == roles_of(raster) and bool(np.isnan(dataset.nodata)),
    )
    layout = Layout(
        n_bands=len(raster.bands),
        dtype="float32",
        nodata=np.nan,
        overviews=Resampling.average,
        compress_overviews="NONE",
        compute_share=0.6,
        working={"interleave": "band", "compress": "none"},  # read once more and then gone
        final={"LEVEL": 1, "PREDICTOR": "YES", "INTERLEAVE": "BAND"},
    )
    keep(contents, layout, path, executor=executor, block_size=block_size, watch=watch)
    return KeptScene(n_valid, raster.grid.whole.n_pixels)


@dataclass(frozen=True)
class _ValuesOf:
    """Picklable block function: values of a window, NaN where a band is not usable."""

    raster: Raster

    def __call__(self, window: Window) -> npt.NDArray[np.float32]:
        return self.raster.read(window).values


def _describe(dataset: rasterio.io.DatasetWriter, raster: Raster, tags: Mapping[str, str]) -> None:
    dataset.update_tags(**tags)
    for i, band in enumerate(raster.bands, start=1):
        dataset.set_band_description(i, band.role)
        dataset.set_band_unit(i, UNITS.get(band.quantity, ""))
        dataset.update_tags(i, quantity=band.quantity)
        if band.wavelength_um is not None:
            dataset.update_tags(i, wavelength_um=f"{band.wavelength_um:g}")
