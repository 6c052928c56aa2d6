"""Keep a scene: all bands as a float32 Cloud Optimized GeoTIFF, not-a-number where not valid."""

from collections.abc import Mapping
from concurrent.futures import Executor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import numpy.typing as npt
import rasterio
import rasterio.shutil
from rasterio.enums import Resampling

from kitesort.core.bands import UNITS
from kitesort.core.engine import (
    CancelCheck,
    Progress,
    ProgressCallback,
    never_cancelled,
    no_progress,
    run_blocks,
    share_of,
)
from kitesort.core.errors import StorageError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.cog import TILE, build_overviews
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.read_back import ReadBack
from kitesort.core.storage import (
    put_in_place,
    require_space_to_keep,
    storage_errors,
    temporary_beside,
)

COMPUTE_SHARE = 0.6  # of a run's progress; the rest is overviews and the final layout
BYTES_PER_VALUE = 4


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
    block_size: int = 1024,
    progress: ProgressCallback = no_progress,
    is_cancelled: CancelCheck = never_cancelled,
) -> KeptScene:
    """Compute all bands and keep them at ``path``, complete and verified, or not at all.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    grid, n_bands = raster.grid, len(raster.bands)
    require_space_to_keep(path.parent, grid.whole.n_pixels * n_bands * BYTES_PER_VALUE)
    n_valid, written = 0, ReadBack(grid, block_size)
    with (
        temporary_beside(path) as working,
        temporary_beside(path) as final,
        storage_errors(path),
    ):
        with _create(working, grid, n_bands) as dataset:

            def consume(window: Window, values: npt.NDArray[np.float32]) -> None:
                nonlocal n_valid
                place = rasterio.windows.Window(window.col, window.row, window.width, window.height)
                dataset.write(values, window=place)
                n_valid += int(np.isfinite(values[0]).sum())
                written.remember(window, values)

            run_blocks(
                grid,
                _ValuesOf(raster),
                consume,
                executor,
                block_size=block_size,
                progress=share_of(progress, COMPUTE_SHARE),
                is_cancelled=is_cancelled,
            )
            _describe(dataset, raster, tags or {})
        build_overviews(working, grid, Resampling.average, "NONE")
        _lay_out(working, final)
        _require_good(final, raster, written)
        put_in_place(final, path)
    progress(Progress(1.0, 0.0))
    return KeptScene(n_valid, grid.whole.n_pixels)


@dataclass(frozen=True)
class _ValuesOf:
    """Picklable block function: values of a window, NaN where a band is not usable."""

    raster: Raster

    def __call__(self, window: Window) -> npt.NDArray[np.float32]:
        return self.raster.read(window).values


def _create(path: Path, grid: Grid, n_bands: int) -> rasterio.io.DatasetWriter:
    return rasterio.open(
        path,
        "w",
        driver="GTiff",
        height=grid.height,
        width=grid.width,
        count=n_bands,
        dtype="float32",
        crs=grid.crs,
        transform=grid.transform,
        nodata=np.nan,
        tiled=True,
        blockxsize=TILE,
        blockysize=TILE,
        interleave="band",
        compress="none",  # read once more and then gone
        bigtiff="if_safer",
    )


def _describe(dataset: rasterio.io.DatasetWriter, raster: Raster, tags: Mapping[str, str]) -> None:
    dataset.update_tags(**tags)
    for i, band in enumerate(raster.bands, start=1):
        dataset.set_band_description(i, band.role)
        dataset.set_band_unit(i, UNITS.get(band.quantity, ""))
        dataset.update_tags(i, quantity=band.quantity)
        if band.wavelength_um is not None:
            dataset.update_tags(i, wavelength_um=f"{band.wavelength_um:g}")


def _lay_out(working: Path, final: Path) -> None:
    """The layout of a Cloud Optimized GeoTIFF, compressed by all cores."""
    rasterio.shutil.copy(
        working,
        final,
        driver="COG",
        COMPRESS="DEFLATE",
        LEVEL=1,
        PREDICTOR="YES",
        BLOCKSIZE=TILE,
        INTERLEAVE="BAND",
        BIGTIFF="IF_SAFER",
        OVERVIEWS="FORCE_USE_EXISTING",
        NUM_THREADS="ALL_CPUS",
    )


def _require_good(path: Path, raster: Raster, written: ReadBack) -> None:
    """Open what was written as a stranger would, and compare."""
    with rasterio.open(path) as dataset:
        good = (
            (dataset.height, dataset.width) == (raster.grid.height, raster.grid.width)
            and dataset.transform == raster.grid.transform
            and dataset.descriptions == roles_of(raster)
            and np.isnan(dataset.nodata)
            and written.agrees(dataset)
        )
    if not good:
        raise StorageError(
            f"{path.name} was written but does not read back as it should, and was not kept. "
            "Run it again; if it happens again, look at the disk."
        )
