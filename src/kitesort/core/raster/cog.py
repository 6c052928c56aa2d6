"""Write rasters as Cloud Optimized GeoTIFF: complete and verified, or not at all."""

import json
from collections.abc import Mapping
from concurrent.futures import Executor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling
from rasterio.shutil import copy as rasterio_copy

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
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.read_back import ReadBack
from kitesort.core.storage import (
    put_in_place,
    require_space_to_keep,
    storage_errors,
    temporary_beside,
)

NODATA_CODE = 0
UNCLASSIFIED_CODE = 255
TILE = 512
CLASSES_TAG = "classification_classes"  # a colon in a tag's name would cut it short
COMPUTE_SHARE = 0.9  # of a run's progress; the rest is overviews and the final layout


@dataclass(frozen=True)
class LegendEntry:
    """A class as it is written into a file: code 1 to 255, name, colour as #rrggbb."""

    code: int
    name: str
    colour: str

    @property
    def rgb(self) -> tuple[int, int, int]:
        text = self.colour.lstrip("#")
        return int(text[0:2], 16), int(text[2:4], 16), int(text[4:6], 16)


UNCLASSIFIED = LegendEntry(UNCLASSIFIED_CODE, "Unclassified", "#8d8d8d")


@dataclass(frozen=True)
class ClassMapResult:
    """Pixels and hectares per code, over the whole map, code 0 (no data) included."""

    pixels: dict[int, int]
    hectares: dict[int, float]


def classification_metadata(legend: tuple[LegendEntry, ...]) -> str:
    """The legend as JSON, worded like ``classification:classes`` of the open STAC extension."""
    classes = [
        {"value": e.code, "name": e.name, "color_hint": e.colour.lstrip("#").upper()}
        for e in legend
    ]
    nodata = {"value": NODATA_CODE, "name": "No data", "nodata": True}
    return json.dumps([nodata, *classes], ensure_ascii=False)


def write_class_map(
    raster: Raster,
    legend: tuple[LegendEntry, ...],
    path: Path,
    *,
    tags: Mapping[str, str] | None = None,
    executor: Executor | None = None,
    block_size: int = 1024,
    progress: ProgressCallback = no_progress,
    is_cancelled: CancelCheck = never_cancelled,
) -> ClassMapResult:
    """Compute a one-band raster of class codes and keep it at ``path``.

    Written beside the target under a temporary name, verified, then moved into place; on any
    error the target is untouched and nothing temporary stays.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    grid = raster.grid
    areas, written = _AreaCounter(grid), ReadBack(grid, block_size)
    require_space_to_keep(path.parent, grid.whole.n_pixels)
    with (
        temporary_beside(path) as working,
        temporary_beside(path) as final,
        storage_errors(path),
    ):
        with _create(working, grid) as dataset:

            def consume(window: Window, codes: npt.NDArray[np.uint8]) -> None:
                dataset.write(codes, 1, window=rasterio.windows.Window(*_col_row(window)))
                areas.add(window, codes)
                written.remember(window, codes)

            run_blocks(
                grid,
                _CodesOf(raster),
                consume,
                executor,
                block_size=block_size,
                progress=share_of(progress, COMPUTE_SHARE),
                is_cancelled=is_cancelled,
            )
            _describe(dataset, legend, tags or {})
        build_overviews(working, grid, Resampling.mode, "DEFLATE")
        _lay_out(working, final)
        if not _reads_back(final, grid, legend, written):
            raise StorageError(
                f"{path.name} was written but does not read back as it should, and was not kept. "
                "Run it again; if it happens again, look at the disk."
            )
        put_in_place(final, path)
    progress(Progress(1.0, 0.0))
    return areas.result()


@dataclass(frozen=True)
class _CodesOf:
    """Picklable block function: class codes of a window, 0 where not valid."""

    raster: Raster

    def __call__(self, window: Window) -> npt.NDArray[np.uint8]:
        block = self.raster.read(window)
        return np.where(block.valid, block.values[0], NODATA_CODE).astype(np.uint8)


class _AreaCounter:
    """Pixels and hectares per code, summed block by block."""

    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._pixels = np.zeros(256, np.int64)
        self._hectares = np.zeros(256, np.float64)

    def add(self, window: Window, codes: npt.NDArray[np.uint8]) -> None:
        flat, areas = codes.ravel(), pixel_areas_ha(self._grid, window).ravel()
        self._pixels += np.bincount(flat, minlength=256)
        self._hectares += np.bincount(flat, areas, minlength=256)

    def result(self) -> ClassMapResult:
        used = np.flatnonzero(self._pixels)
        return ClassMapResult(
            {int(c): int(self._pixels[c]) for c in used},
            {int(c): float(self._hectares[c]) for c in used},
        )


def _col_row(window: Window) -> tuple[int, int, int, int]:
    """A window in the order that rasterio wants."""
    return window.col, window.row, window.width, window.height


def _create(path: Path, grid: Grid) -> rasterio.io.DatasetWriter:
    return rasterio.open(
        path,
        "w",
        driver="GTiff",
        height=grid.height,
        width=grid.width,
        count=1,
        dtype="uint8",
        crs=grid.crs,
        transform=grid.transform,
        nodata=NODATA_CODE,
        tiled=True,
        blockxsize=TILE,
        blockysize=TILE,
        compress="deflate",
        zlevel=1,
        bigtiff="if_safer",
    )


def _describe(
    dataset: rasterio.io.DatasetWriter, legend: tuple[LegendEntry, ...], tags: Mapping[str, str]
) -> None:
    colours = {code: (0, 0, 0, 0) for code in range(256)}
    colours |= {entry.code: (*entry.rgb, 255) for entry in legend}
    dataset.write_colormap(1, colours)
    dataset.set_band_description(1, "class")
    dataset.update_tags(**{CLASSES_TAG: classification_metadata(legend)}, **tags)
    dataset.update_tags(1, **{f"class_{e.code}": e.name for e in legend})


def build_overviews(path: Path, grid: Grid, resampling: Resampling, compress: str) -> None:
    """Overviews inside a working file, by all cores; the final layout only copies them.

    Left to the final layout they would be made by one core, which takes several times as long.
    """
    factors = [2**k for k in range(1, 12) if max(grid.height, grid.width) / 2**k >= TILE / 2]
    if factors:
        options = {"COMPRESS_OVERVIEW": compress, "GDAL_NUM_THREADS": "ALL_CPUS"}
        with rasterio.Env(**options), rasterio.open(path, "r+") as dataset:
            dataset.build_overviews(factors, resampling)


def _lay_out(working: Path, final: Path) -> None:
    """The final order of a Cloud Optimized GeoTIFF, overviews first."""
    rasterio_copy(
        working,
        final,
        driver="COG",
        COMPRESS="DEFLATE",
        BLOCKSIZE=TILE,
        BIGTIFF="IF_SAFER",
        OVERVIEWS="FORCE_USE_EXISTING",
        NUM_THREADS="ALL_CPUS",
    )


def _reads_back(path: Path, grid: Grid, legend: tuple[LegendEntry, ...], written: ReadBack) -> bool:
    """Open what was written as a stranger would, and compare."""
    with rasterio.open(path) as dataset:
        colours = dataset.colormap(1)
        return bool(
            (dataset.height, dataset.width) == (grid.height, grid.width)
            and dataset.transform == grid.transform
            and dataset.nodata == NODATA_CODE
            and all(colours[e.code][:3] == e.rgb for e in legend)
            and dataset.tags().get(CLASSES_TAG) == classification_metadata(legend)
            and written.agrees(dataset)
        )
