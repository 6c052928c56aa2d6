"""Bands of one file on disk, read through rasterio under an explicit list of drivers."""

import hashlib
import os
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling
from rasterio.errors import NotGeoreferencedWarning, RasterioError, RasterioIOError

from kitesort.core.bands import Band
from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.coarse import coarse_copies, coarse_factor
from kitesort.core.raster.handles import handle
from kitesort.core.raster.protocol import Block, Shape, band_positions

# The only drivers ever used, by the first bytes of the file; the name of a file proves nothing.
DRIVERS = {
    b"II*\0": "GTiff",
    b"MM\0*": "GTiff",
    b"II+\0": "GTiff",
    b"MM\0+": "GTiff",
    b"\0\0\0\x0c": "JP2OpenJPEG",
}
MAX_BLOCK_BYTES = 256 * 2**20
# Pixels of one value pack a thousandfold; what is to grow far more than that is not there.
MAX_UNPACKING = 4_000
FREE_UNPACKING_BYTES = 2**30
MAX_PIXELS = 10**11
# Never look for side files, never touch the network: only the named file is read.
GDAL_OPTIONS = {
    "GDAL_DISABLE_READDIR_ON_OPEN": "EMPTY_DIR",
    "GDAL_PAM_ENABLED": "NO",
    "GDAL_CACHEMAX": 128 * 2**20,  # bytes: a row of blocks of six bands in strips, 10 000 wide
    "GDAL_HTTP_MAX_RETRY": "0",
}

# Whether a file has a coordinate system is asked where it matters. Once and for all, since
# setting filters aside for a moment is not safe with threads.
warnings.filterwarnings("ignore", category=NotGeoreferencedWarning)


def open_dataset(path: str, overview_level: int | None = None) -> rasterio.DatasetReader:
    """This thread's open handle of a file (rasterio handles must not be shared by threads)."""
    try:
        key = (path, Path(path).stat().st_mtime_ns, overview_level)
    except OSError as error:
        raise UnreadableFileError(f"{Path(path).name} is not there any more.") from error
    return handle(key, lambda: _open(path, overview_level))


def _open(path: str, overview_level: int | None) -> rasterio.DatasetReader:
    options = {} if overview_level is None else {"overview_level": overview_level}
    try:
        with Path(path).open("rb") as handle:
            driver = DRIVERS.get(handle.read(4))
        if driver is None:
            raise RasterioError("neither TIFF nor JPEG 2000")
        with rasterio.Env(**GDAL_OPTIONS):
            return rasterio.open(path, driver=driver, **options)
    except RasterioError as error:
        raise UnreadableFileError(
            f"{Path(path).name} cannot be read as a GeoTIFF or JPEG 2000 picture. "
            "It may be cut short or of another format; deliver it again."
        ) from error


def crs_of(dataset: rasterio.DatasetReader) -> str | None:
    """Authority code of a file's CRS, its WKT when it has none, None when nothing is said."""
    if dataset.crs is None:
        return None
    code = dataset.crs.to_epsg()
    return f"EPSG:{code}" if code else str(dataset.crs.to_wkt())


def dtype_of(path: str) -> str:
    """Number type of a file's first band."""
    return str(open_dataset(path).dtypes[0])


def require_readable(dataset: rasterio.DatasetReader, name: str) -> None:
    """Refuse what cannot be measured in, or what would not fit into memory block by block.

    Raises
    ------
    InputError
    """
    kind = dataset.dtypes[0]
    if kind.startswith("complex"):
        raise InputError(f"{name} holds complex numbers; a band must hold plain ones.")
    rows, columns = dataset.block_shapes[0]
    together = dataset.count if dataset.interleaving == rasterio.enums.Interleaving.pixel else 1
    if rows * columns * together * np.dtype(kind).itemsize > MAX_BLOCK_BYTES:
        raise InputError(
            f"{name} is stored in pieces of {rows:,} × {columns:,} pixels, too large to be read "
            "safely. Deliver it as a tiled GeoTIFF."
        )
    if dataset.height * dataset.width > MAX_PIXELS:
        raise InputError(
            f"{name} says it has {dataset.height:,} × {dataset.width:,} pixels, more than can be "
            "worked with. Check the file, or cut it into tiles."
        )
    _require_held(dataset, name)


def _require_held(dataset: rasterio.DatasetReader, name: str) -> None:
    """Refuse a small file that says it is enormous: every look at it would cost what it says."""
    size = Path(dataset.name).stat().st_size
    itemsize = max(np.dtype(kind).itemsize for kind in dataset.dtypes)
    declared = dataset.height * dataset.width * dataset.count * itemsize
    if declared > FREE_UNPACKING_BYTES and declared > size * MAX_UNPACKING:
        raise InputError(
            f"{name} says it holds {declared / 2**30:,.0f} GiB of pixels in a file of "
            f"{size / 2**20:,.1f} MiB, which cannot be. It may be cut short; deliver it again."
        )


@dataclass(frozen=True)
class FileRaster:
    """Bands of one file. ``roles`` name the file's bands in order.

    ``nodata`` overrides the file's own; ``saturated`` marks values that are not measurements.
    ``indexes`` are the bands' numbers in the file, 1 for the first; all in order when empty.
    ``crs`` replaces what the file says of its coordinate system.
    """

    path: str
    band_info: tuple[Band, ...]
    nodata: float | None = None
    saturated: float | None = None
    indexes: tuple[int, ...] = ()
    crs: str | None = None

    @cached_property
    def grid(self) -> Grid:
        dataset = open_dataset(self.path)
        name = Path(self.path).name
        require_readable(dataset, name)
        if max(self.indexes, default=1) > dataset.count:
            raise InputError(f"{name} has {dataset.count} bands, not {max(self.indexes)}.")
        crs = self.crs or crs_of(dataset)
        if crs is None:
            raise InputError(f"{name} has no coordinate system. Give it one first.")
        return Grid(crs, dataset.transform, dataset.height, dataset.width)

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.band_info

    @property
    def fingerprint(self) -> str:
        stat = os.stat(self.path)  # noqa: PTH116 - of every tile, and several times as quick
        text = f"{self.path}|{stat.st_mtime_ns}|{stat.st_size}|{self.nodata}|{self.saturated}"
        text += f"|{self.indexes}|{self.crs}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    @cached_property
    def _factors(self) -> tuple[int, ...]:
        """Decimation factors of the overviews inside the file."""
        return tuple(open_dataset(self.path).overviews(1))

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        rows = window.row + np.array([0.0, window.height])
        cols = window.col + np.array([0.0, window.width])
        out = shape or (window.height, window.width)
        return self.read_span((rows[0], rows[1]), (cols[0], cols[1]), out, roles)

    def read_span(
        self,
        rows: tuple[float, float],
        cols: tuple[float, float],
        shape: Shape,
        roles: tuple[str, ...] | None = None,
    ) -> Block:
        """Nearest-neighbour samples of a span of fractional rows and columns.

        Samples whose centre lies outside the file are not valid.
        """
        raw, inside = self.read_numbers(rows, cols, shape, roles)
        return self._to_block(raw, inside)

    def read_numbers(
        self,
        rows: tuple[float, float],
        cols: tuple[float, float],
        shape: Shape,
        roles: tuple[str, ...] | None = None,
    ) -> tuple[npt.NDArray[np.generic], npt.NDArray[np.bool_]]:
        """As ``read_span``, but the numbers as they are stored, in the file's own type: bits keep
        their places. Beside them (rows, columns) whether a sample lies inside the file."""
        positions = band_positions(self.band_info, roles)
        indexes = [self.indexes[p] if self.indexes else p + 1 for p in positions]
        step = min((rows[1] - rows[0]) / shape[0], (cols[1] - cols[0]) / shape[1])
        level, factor = self._level_for(step)
        coarse = self._coarse_factor if level is None and step >= self._coarse_factor else 1
        factor = max(factor, coarse)
        row_at, row_inside = _sample_positions(rows, shape[0], self.grid.height, factor)
        col_at, col_inside = _sample_positions(cols, shape[1], self.grid.width, factor)
        if coarse > 1:
            raw = _sample_copies(self.path, indexes, row_at, col_at)
        else:
            raw = _read_samples(self.path, level, indexes, row_at, col_at, step / factor)
        return raw, row_inside[:, None] & col_inside[None, :]

    @cached_property
    def _coarse_factor(self) -> int:
        """Decimation of the copy in memory; 1 for a file with overviews, or a small one."""
        return 1 if self._factors else coarse_factor(self.grid.height, self.grid.width)

    def _level_for(self, step: float) -> tuple[int | None, int]:
        """Coarsest overview that is not coarser than the step, and its factor (1 for none)."""
        usable = [i for i, factor in enumerate(self._factors) if factor <= step * 1.001]
        return (usable[-1], self._factors[usable[-1]]) if usable else (None, 1)

    def _to_block(self, raw: npt.NDArray[np.generic], inside: npt.NDArray[np.bool_]) -> Block:
        """Markers are compared in the file's own type: what float32 cannot tell apart differs."""
        with np.errstate(over="ignore"):  # some files hold more than float32 can
            values = raw.astype(np.float32)
        bad = ~np.isfinite(values)
        nodata = open_dataset(self.path).nodata if self.nodata is None else self.nodata
        for marker in (nodata, self.saturated):
            if marker is not None and np.isfinite(marker):
                bad |= raw == marker_in(raw.dtype, marker)
        bad |= ~inside
        values[bad] = np.nan
        return Block(values, np.asarray(~bad.any(axis=0)))


def marker_in(dtype: np.dtype[Any], marker: float) -> float | np.floating[Any]:
    """A marker as a file of a type can hold it: many say more digits than float32 keeps."""
    if np.issubdtype(dtype, np.floating):
        with np.errstate(over="ignore"):
            kept: np.floating[Any] = dtype.type(marker)
            return kept
    return marker


def _sample_positions(
    span: tuple[float, float], n: int, size: int, factor: int
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.bool_]]:
    """Source index of each of n sample centres along one axis, and whether it is inside."""
    centres = span[0] + (np.arange(n) + 0.5) * ((span[1] - span[0]) / n)
    inside = (centres >= 0) & (centres < size)
    level_size = -(-size // factor)
    positions = np.floor(centres / factor).astype(np.int64)
    return np.clip(positions, 0, level_size - 1), inside


def _sample_copies(
    path: str, indexes: list[int], row_at: npt.NDArray[np.int64], col_at: npt.NDArray[np.int64]
) -> npt.NDArray[np.generic]:
    """Samples of the coarse copies of a file without overviews."""
    with _damage_in_words(path), rasterio.Env(**GDAL_OPTIONS):
        dataset = open_dataset(path)
        copies = coarse_copies(dataset, indexes)
    return np.stack([copy[row_at[:, None], col_at[None, :]] for copy in copies])


@contextmanager
def _damage_in_words(path: str) -> Iterator[None]:
    try:
        yield
    except RasterioIOError as error:
        raise UnreadableFileError(
            f"{Path(path).name} is damaged or cut short: part of it cannot be read. "
            "Deliver it again."
        ) from error


def _read_samples(
    path: str,
    level: int | None,
    indexes: list[int],
    row_at: npt.NDArray[np.int64],
    col_at: npt.NDArray[np.int64],
    step: float,
) -> npt.NDArray[np.generic]:
    dataset = open_dataset(path, level)
    row_at, col_at = np.minimum(row_at, dataset.height - 1), np.minimum(col_at, dataset.width - 1)
    r0, c0 = int(row_at[0]), int(col_at[0])
    height, width = int(row_at[-1]) - r0 + 1, int(col_at[-1]) - c0 + 1
    window = rasterio.windows.Window(c0, r0, width, height)
    with _damage_in_words(path), rasterio.Env(**GDAL_OPTIONS):
        if step > 2:  # no overview is coarse enough: let the driver decimate, in its own memory
            shape = (len(indexes), len(row_at), len(col_at))
            return dataset.read(
                indexes, window=window, out_shape=shape, resampling=Resampling.nearest
            )
        raw = dataset.read(indexes, window=window)
    if raw.shape[1:] == (len(row_at), len(col_at)):
        return raw
    return raw[:, (row_at - r0)[:, None], (col_at - c0)[None, :]]
