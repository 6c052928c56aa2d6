"""The one way in which layers become files: computed block by block, given overviews, laid out as
Cloud Optimized GeoTIFF, read back, moved into place; complete and verified, or not at all."""

from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import Executor
from contextlib import ExitStack
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
from kitesort.core.raster.protocol import Block, Raster
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
    """What is written: ``values_of`` gives a block's values (picklable), ``count`` looks at them as
    they are written, ``describe`` tells the file of itself, ``is_described`` reads that again."""

    values_of: Callable[[Block], Values]
    count: Callable[[Window, Values], None]
    describe: Callable[[rasterio.io.DatasetWriter], None]
    is_described: Callable[[rasterio.DatasetReader], bool]


@dataclass(frozen=True)
class Target:
    """A file to be, of a raster or of some of its bands."""

    contents: Contents
    layout: Layout
    path: Path


def keep(
    raster: Raster,
    targets: Sequence[Target],
    *,
    executor: Executor | None = None,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> None:
    """One or more files of a raster, every block computed once. Written beside the targets under
    temporary names, verified, then moved into place; on any error no target is touched and nothing
    temporary stays.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    grid = raster.grid
    n_bytes = sum(target.layout.bytes_of(grid) for target in targets)
    require_space_to_keep(targets[0].path.parent, n_bytes)
    share = min(target.layout.compute_share for target in targets)
    with ExitStack() as stack:
        files = [_begin(stack, target, grid, block_size) for target in targets]
        _write_blocks(raster, files, executor, block_size, watch.first(share))
        for file in files:
            _build_overviews(file.working, grid, file.target.layout)
            _lay_out(file.working, file.final, file.target.layout)
            _require_good(file, grid)
        for file in files:
            put_in_place(file.final, file.target.path)
    watch.progress(Progress(1.0, 0.0))


@dataclass(frozen=True)
class _File:
    """A target under its temporary names: the one that is written first, and the one that stays;
    and what was written."""

    target: Target
    working: Path
    final: Path
    written: ReadBack


def _begin(stack: ExitStack, target: Target, grid: Grid, block_size: int) -> _File:
    working = stack.enter_context(temporary_beside(target.path))
    final = stack.enter_context(temporary_beside(target.path))
    stack.enter_context(storage_errors(target.path))
    return _File(target, working, final, ReadBack(grid, block_size))


def _write_blocks(
    raster: Raster,
    files: Sequence[_File],
    executor: Executor | None,
    block_size: int,
    watch: Watch,
) -> None:
    grid = raster.grid
    with ExitStack() as stack:
        datasets = [
            stack.enter_context(_create(file.working, grid, file.target.layout)) for file in files
        ]

        def consume(window: Window, parts: tuple[Values, ...]) -> None:
            place = rasterio.windows.Window(window.col, window.row, window.width, window.height)
            for file, dataset, values in zip(files, datasets, parts, strict=True):
                dataset.write(values, window=place)
                file.target.contents.count(window, values)
                file.written.remember(window, values)

        compute = _PartsOf(raster, tuple(file.target.contents.values_of for file in files))
        map_blocks(grid, compute, consume, executor, block_size=block_size, watch=watch)
        for file, dataset in zip(files, datasets, strict=True):
            file.target.contents.describe(dataset)


@dataclass(frozen=True)
class _PartsOf:
    """Picklable block function: what each file gets of a window."""

    raster: Raster
    values_of: tuple[Callable[[Block], Values], ...]

    def __call__(self, window: Window) -> tuple[Values, ...]:
        block = self.raster.read(window)
        return tuple(values_of(block) for values_of in self.values_of)


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


def _require_good(file: _File, grid: Grid) -> None:
    """Open what was written as a stranger would, and compare."""
    with rasterio.open(file.final) as dataset:
        good = (
            (dataset.height, dataset.width) == (grid.height, grid.width)
            and dataset.transform == grid.transform
            and file.target.contents.is_described(dataset)
            and file.written.agrees(dataset)
        )
    if not good:
        raise StorageError(
            f"{file.target.path.name} was written but does not read back as it should, and was not "
            "kept. Run it again; if it happens again, look at the disk."
        )
