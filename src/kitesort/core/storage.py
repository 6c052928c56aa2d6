"""Whole files or none: space asked for first, a temporary name, and every "no space" in words."""

import errno
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from rasterio.errors import RasterioError

from kitesort.core.errors import DiskFullError, StorageError

MIN_FREE_BYTES = 32 * 2**20
# Overviews take a third of what they are made of; working and final file lie there at once.
KEEPING_SHARE = 2 * 4 / 3
FULL = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
FULL_STATE = "53100"  # PostgreSQL's code for a full disk
FULL_WORDS = ("no space left", "disk quota exceeded", "file too large")


@contextmanager
def temporary_beside(path: Path) -> Iterator[Path]:
    """A free temporary name beside the target; whatever is there afterwards is removed."""
    name = path.with_name(
        f".{path.stem}.{os.getpid()}.{os.urandom(4).hex()}.part{path.suffix or '.tif'}"
    )
    try:
        yield name
    finally:
        name.unlink(missing_ok=True)


def put_in_place(temporary: Path, path: Path) -> None:
    """Flush to disk, then rename: readers see the old file or the whole new one."""
    with temporary.open("rb") as handle:
        os.fsync(handle.fileno())
    temporary.replace(path)


def require_space(folder: Path, n_bytes: int) -> None:
    """Refuse to start what cannot fit.

    Raises
    ------
    DiskFullError
    """
    if shutil.disk_usage(folder).free < n_bytes + MIN_FREE_BYTES:
        raise _disk_full(folder)


def require_space_to_keep(folder: Path, n_bytes: int) -> None:
    """As ``require_space``, for a file of so many bytes, uncompressed, with overviews, that is
    written twice: as it is computed, and in its final layout.

    Raises
    ------
    DiskFullError
    """
    require_space(folder, int(n_bytes * KEEPING_SHARE))


def is_about_space(error: BaseException | None) -> bool:
    """Whether an error, or one that it came from, says that a disk is full; whichever library
    says it."""
    while error is not None:
        if isinstance(error, DiskFullError) or getattr(error, "errno", None) in FULL:
            return True
        if getattr(error, "sqlstate", None) == FULL_STATE:
            return True
        if any(words in str(error).lower() for words in FULL_WORDS):
            return True
        error = error.__cause__ or error.__context__
    return False


@contextmanager
def storage_errors(path: Path) -> Iterator[None]:
    """Say in words what the raster library or the system reported while writing."""
    try:
        yield
    except RasterioError as error:
        if is_about_space(error) or shutil.disk_usage(path.parent).free < MIN_FREE_BYTES:
            raise _disk_full(path.parent) from error
        raise StorageError(
            f"{path.name} could not be written. Nothing half-written was kept; "
            "look at the free space and the rights of the data folder, then run it again."
        ) from error
    except OSError as error:
        if is_about_space(error):
            raise _disk_full(path.parent) from error
        raise


def _disk_full(folder: Path) -> DiskFullError:
    free = shutil.disk_usage(folder).free / 2**20
    return DiskFullError(
        f"The disk is full: {free:,.0f} MiB left in the data folder. "
        "Nothing was written and nothing is lost; make room and run it again."
    )
