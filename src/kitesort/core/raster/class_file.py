"""Keep a class map: whole numbers, 0 where there is no data, colours and names inside."""

import json
from collections.abc import Mapping
from concurrent.futures import Executor
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np
import rasterio
from rasterio.enums import Resampling

from kitesort.core.bands import Band
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Grid, Window
from kitesort.core.legend import N_CODES, NODATA_CODE, Legend, dtype_of
from kitesort.core.raster.keeping import BLOCK_SIZE, Contents, Layout, Target, Values, keep
from kitesort.core.raster.protocol import Block, Raster

CLASSES_TAG = "classification_classes"  # a colon in a tag's name would cut it short
LAYOUT = Layout(
    n_bands=1,
    dtype="uint16",
    nodata=NODATA_CODE,
    overviews=Resampling.mode,
    compress_overviews="DEFLATE",
    compute_share=0.9,
    working={"compress": "deflate", "zlevel": 1},
)


@dataclass(frozen=True)
class ClassMapResult:
    """Pixels and hectares per code, over the whole map, code 0 (no data) included."""

    pixels: dict[int, int]
    hectares: dict[int, float]


def class_bands(legend: Legend) -> tuple[Band, ...]:
    """The band of a class map."""
    return (Band("class", quantity="classes", legend=legend),)


def classification_metadata(legend: Legend) -> str:
    """The legend as JSON, worded like ``classification:classes`` of the open STAC extension."""
    classes = [
        {"value": e.code, "name": e.name, "color_hint": e.colour.lstrip("#").upper()}
        for e in legend
    ]
    nodata = {"value": NODATA_CODE, "name": "No data", "nodata": True}
    return json.dumps([nodata, *classes], ensure_ascii=False)


def write_class_map(
    raster: Raster,
    legend: Legend,
    path: Path,
    *,
    tags: Mapping[str, str] | None = None,
    executor: Executor | None = None,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> ClassMapResult:
    """Compute a one-band raster of class codes and keep it at ``path``, complete and verified, or
    not at all.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    target, areas = class_map_target(raster.grid, legend, path, tags)
    keep(raster, [target], executor=executor, block_size=block_size, watch=watch)
    return areas.result()


def class_map_target(
    grid: Grid, legend: Legend, path: Path, tags: Mapping[str, str] | None = None
) -> "tuple[Target, AreaCounter]":
    """The file of the first band of a raster of class codes, and what counts them meanwhile."""
    areas, dtype = AreaCounter(grid), dtype_of(legend)
    contents = Contents(
        partial(_codes_of, dtype=dtype),
        areas.add,
        lambda dataset: _describe(dataset, legend, tags or {}),
        lambda dataset: _is_described(dataset, legend),
    )
    return Target(contents, replace(LAYOUT, dtype=dtype), path), areas


def _codes_of(block: Block, dtype: str) -> Values:
    """Class codes (1, rows, columns), 0 where there is none."""
    codes = block.values[:1]
    return np.where(np.isnan(codes), NODATA_CODE, codes).astype(dtype)


class AreaCounter:
    """Pixels and hectares per code, summed block by block."""

    def __init__(self, grid: Grid) -> None:
        self._grid = grid
        self._pixels = np.zeros(N_CODES, np.int64)
        self._hectares = np.zeros(N_CODES, np.float64)

    def add(self, window: Window, codes: Values) -> None:
        flat, areas = codes.ravel(), pixel_areas_ha(self._grid, window).ravel()
        self._pixels += np.bincount(flat, minlength=N_CODES)
        self._hectares += np.bincount(flat, areas, minlength=N_CODES)

    def result(self) -> ClassMapResult:
        used = np.flatnonzero(self._pixels)
        return ClassMapResult(
            {int(c): int(self._pixels[c]) for c in used},
            {int(c): float(self._hectares[c]) for c in used},
        )


def _describe(dataset: rasterio.io.DatasetWriter, legend: Legend, tags: Mapping[str, str]) -> None:
    colours = {code: (0, 0, 0, 0) for code in range(256)}
    colours |= {entry.code: (*entry.rgb, 255) for entry in legend}
    dataset.write_colormap(1, colours)
    dataset.set_band_description(1, "class")
    dataset.update_tags(**{CLASSES_TAG: classification_metadata(legend)}, **tags)
    dataset.update_tags(1, **{f"class_{e.code}": e.name for e in legend})


def _is_described(dataset: rasterio.DatasetReader, legend: Legend) -> bool:
    colours = dataset.colormap(1)
    return bool(
        dataset.nodata == NODATA_CODE
        and all(colours[e.code][:3] == e.rgb for e in legend)
        and dataset.tags().get(CLASSES_TAG) == classification_metadata(legend)
    )
