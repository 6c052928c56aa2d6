"""The one way in which layers become files: computed block by block, given overviews, laid out as
Cloud Optimized GeoTIFF, read back, moved into place; complete and verified, or not at all."""

from collections.abc import Callable, Mapping
from concurrent.futures import Executor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
import rasterio.shutil
from rasterio.enums import Resampling

from kitesort.core.engine import UNWATCHED, Progress, Watch, map_blocks
from kitesort.core.errors import StorageError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.read_back import ReadBack
from kitesort.core.storage import (
    put_in_place,
    require_space_to_keep,
    storage_errors,
    temporary_beside,
)

TILE = 512
BLOCK_SIZE = 1024
Values = npt.NDArray[Any]  # (bands, rows, columns)


@dataclass(frozen=True)
class Layout:
    """How one kind of layer is written. ``working``: options of the file that is written first,
    ``final``: of the one that stays; ``overviews``: how coarse pixels are made, for the eye.
    ``compute_share``: of a run's progress, the rest is overviews and the final layout."""

    n_bands: int
    dtype: str
    nodata: float
    overviews: Resampling
    compress_overviews: str
    compute_share: float
    working: Mapping[str, Any] = field(default_factory=dict)
    final: Mapping[str, Any] = field(default_factory=dict)

    def bytes_of(self, grid: Grid) -> int:
        return grid.whole.n_pixels * self.n_bands * np.dtype(self.dtype).itemsize


@dataclass(frozen=True)
class Contents:
    """What is written: ``compute`` gives a window's values (picklable), ``count`` looks at them as
    they are written, ``describe`` tells the file of itself, ``is_described`` reads that again."""

    grid: Grid
    compute: Callable[[Window], Values]
    count: Callable[[Window, Values], None]
    describe: Callable[[rasterio.io.DatasetWriter], None]
    is_described: Callable[[rasterio.DatasetReader], bool]


def keep(
    contents: Contents,
    layout: Layout,
    path: Path,
    *,
    executor: Executor | None = None,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> None:
    """Written beside the target under a temporary name, verified, then moved into place; on any
    error the target is untouched and nothing temporary stays.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    grid, written = contents.grid, ReadBack(contents.grid, block_size)
    require_space_to_keep(path.parent, layout.bytes_of(grid))
    with (
        temporary_beside(path) as working,
        temporary_beside(path) as final,
        storage_errors(path),
    ):
        with _create(working, grid, layout) as dataset:

            def consume(window: Window, values: Values) -> None:
                place = rasterio.windows.Window(window.col, window.row, window.width, window.height)
                dataset.write(values, window=place)
                contents.count(window, values)
                written.remember(window, values)

            map_blocks(
                grid,
                contents.compute,
                consume,
                executor,
                block_size=block_size,
                watch=watch.first(layout.compute_share),
            )
            contents.describe(dataset)
        _build_overviews(working, grid, layout)
        _lay_out(working, final, layout)
        _require_good(final, contents, written)
        put_in_place(final, path)
    watch.progress(Progress(1.0, 0.0))


def _create(path: Path, grid: Grid, layout: Layout) -> rasterio.io.DatasetWriter:
    return rasterio.open(
        path,
        "w",
        driver="GTiff",
        height=grid.height,
        width=grid.width,
        count=layout.n_bands,
        dtype=layout.dtype,
        crs=grid.crs,
        transform=grid.transform,
        nodata=layout.nodata,
        tiled=True,
        blockxsize=TILE,
        blockysize=TILE,
        bigtiff="if_safer",
        **layout.working,
    )


def _build_overviews(path: Path, grid: Grid, layout: Layout) -> None:
    """Overviews inside the working file, by all cores; the final layout only copies them.

    Left to the final layout they would be made by one core, which takes several times as long.
    """
    factors = [2**k for k in range(1, 12) if max(grid.height, grid.width) / 2**k >= TILE / 2]
    if factors:
        options = {"COMPRESS_OVERVIEW": layout.compress_overviews, "GDAL_NUM_THREADS": "ALL_CPUS"}
        with rasterio.Env(**options), rasterio.open(path, "r+") as dataset:
            dataset.build_overviews(factors, layout.overviews)


def _lay_out(working: Path, final: Path, layout: Layout) -> None:
    """The final order of a Cloud Optimized GeoTIFF, overviews first, packed by all cores."""
    rasterio.shutil.copy(
        working,
        final,
        driver="COG",
        COMPRESS="DEFLATE",
        BLOCKSIZE=TILE,
        BIGTIFF="IF_SAFER",
        OVERVIEWS="FORCE_USE_EXISTING",
        NUM_THREADS="ALL_CPUS",
        **layout.final,
    )


def _require_good(path: Path, contents: Contents, written: ReadBack) -> None:
    """Open what was written as a stranger would, and compare."""
    grid = contents.grid
    with rasterio.open(path) as dataset:
        good = (
            (dataset.height, dataset.width) == (grid.height, grid.width)
            and dataset.transform == grid.transform
            and contents.is_described(dataset)
            and written.agrees(dataset)
        )
    if not good:
        raise StorageError(
            f"{path.name} was written but does not read back as it should, and was not kept. "
            "Run it again; if it happens again, look at the disk."
        )
