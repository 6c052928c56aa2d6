"""Unpack a delivered archive (zip, tar, compressed tar) without trusting anything it says."""

import shutil
import stat
import tarfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, replace
from pathlib import Path, PurePosixPath
from typing import IO

from kitesort.core.delivery.inventory import MAX_FILES
from kitesort.core.errors import (
    BadSettingsError,
    DiskFullError,
    KiteSortError,
    UnreadableFileError,
)
from kitesort.core.storage import is_about_space

CHUNK = 2**20
MAX_RATIO = 200  # unpacked bytes per packed one; pictures do not pack like that, bombs do
FREE_RATIO_BYTES = 64 * 2**20
RESERVE_BYTES = 256 * 2**20
MAX_PATH = 400
MAX_DEPTH = 24
MAX_NAME_BYTES = 230  # a disk keeps 255, and names on their way have some more


@dataclass(frozen=True)
class _Member:
    name: str
    size: int
    handle: IO[bytes]


def safe_path(text: str) -> PurePosixPath:
    """A file's path inside a delivery, as a plain relative one.

    Raises
    ------
    BadSettingsError : it leads elsewhere, is hidden, or is no path.
    """
    path = PurePosixPath(text.replace("\\", "/"))
    parts = [p for p in path.parts if p != "."]
    odd = path.is_absolute() or not parts or len(parts) > MAX_DEPTH or len(text) > MAX_PATH
    bad = any(p == ".." or p.startswith(".") or ":" in p for p in parts)
    if odd or bad or any(ord(c) < 32 or "\ud800" <= c <= "\udfff" for c in text):
        raise BadSettingsError(
            f"The name “{text[:80]}” leads out of the delivery or is no plain file name. Nothing "
            "was written under it."
        )
    if any(len(part.encode()) > MAX_NAME_BYTES for part in parts):
        raise BadSettingsError(f"The name “{text[:80]}…” is longer than a disk can keep.")
    return PurePosixPath(*parts)


def is_archive(path: Path, name: str = "") -> bool:
    """By its first bytes, whatever its name; of packed streams those that ``name`` (its own where
    nothing is said) calls a tar."""
    with path.open("rb") as handle:
        head = handle.read(512)
    is_tar = head[257:262] == b"ustar"
    called = (name or path.name).lower()
    packed = head[:2] == b"\x1f\x8b" and called.endswith((".tar.gz", ".tgz"))
    return head[:4] == b"PK\x03\x04" or is_tar or packed


def unpack(archive: Path, target: Path, name: str = "") -> int:
    """Unpack all plain files below a new folder ``target``; how many there were. ``name``: what
    people call the archive, where it is not the file's own.

    All or nothing: on any error the folder is taken away again.

    Raises
    ------
    UnreadableFileError : damaged, encrypted, or far larger inside than it can honestly be.
    BadSettingsError : a name leads elsewhere. DiskFullError
    """
    name = name or archive.name
    budget = _Budget(archive.stat().st_size * MAX_RATIO + FREE_RATIO_BYTES, name)
    try:
        count = 0
        with _damage_in_words(name):
            _require_honest(archive, budget)
            for member in _members(archive, name):
                path = target / safe_path(member.name)
                count += 1
                budget.count(count)
                path.parent.mkdir(parents=True, exist_ok=True)
                _copy(member, path, budget)
        if count == 0:
            raise UnreadableFileError(f"{name} holds no file.")
    except BaseException:
        shutil.rmtree(target, ignore_errors=True)
        raise
    return count


@dataclass
class _Budget:
    left: int
    name: str

    def count(self, n_files: int) -> None:
        if n_files > MAX_FILES:
            raise UnreadableFileError(f"{self.name} holds over {MAX_FILES:,} files.")

    def take(self, n: int) -> None:
        self.left -= n
        if self.left < 0:
            raise UnreadableFileError(
                f"{self.name} grows to far more than its size when it is unpacked, as no pictures "
                "do. It was not taken."
            )


def _require_honest(archive: Path, budget: _Budget) -> None:
    """What the directory of a zip tells of its own is enough to refuse it before anything is
    unpacked; what it does not tell is counted while it comes."""
    if not zipfile.is_zipfile(archive):
        return
    with zipfile.ZipFile(archive) as packed:
        infos = packed.infolist()
    budget.count(len(infos))
    replace(budget).take(sum(info.file_size for info in infos))


def _members(archive: Path, name: str) -> Iterator[_Member]:
    is_zip = zipfile.is_zipfile(archive)
    return _zip_members(archive, name) if is_zip else _tar_members(archive, name)


@contextmanager
def _damage_in_words(name: str) -> Iterator[None]:
    """Whatever unpacking stumbles over, as one sentence."""
    try:
        yield
    except KiteSortError:
        raise
    except NotImplementedError as error:
        raise UnreadableFileError(f"{name} is packed in a way that is not read.") from error
    except OSError as error:
        if is_about_space(error):
            raise DiskFullError(f"The disk filled up while {name} was unpacked.") from error
        raise _damaged(name) from error
    except (zipfile.BadZipFile, tarfile.TarError, zlib.error, EOFError, RuntimeError) as error:
        raise _damaged(name) from error


def _damaged(name: str) -> UnreadableFileError:
    return UnreadableFileError(
        f"{name} is damaged, cut short or locked with a password. Deliver it again."
    )


def _zip_members(archive: Path, name: str) -> Iterator[_Member]:
    with zipfile.ZipFile(archive) as packed:
        for info in packed.infolist():
            if info.is_dir():
                continue
            if stat.S_ISLNK(info.external_attr >> 16):
                raise UnreadableFileError(f"{name} holds a link; only files are taken.")
            with packed.open(info) as handle:
                yield _Member(info.filename, info.file_size, handle)


def _tar_members(archive: Path, name: str) -> Iterator[_Member]:
    with tarfile.open(archive) as packed:
        for info in packed:
            if info.isdir():
                continue
            handle = packed.extractfile(info) if info.isreg() else None
            if handle is None:
                raise UnreadableFileError(f"{name} holds a link or device; only files are taken.")
            with handle:
                yield _Member(info.name, info.size, handle)


def _copy(member: _Member, path: Path, budget: _Budget) -> None:
    budget.take(0)
    free = shutil.disk_usage(path.parent).free
    if member.size > free - RESERVE_BYTES:
        raise DiskFullError(
            f"There is no room to unpack {path.name}: {free / 2**20:,.0f} MiB are left. Make room "
            "and bring it in again."
        )
    with path.open("xb") as out:
        while chunk := member.handle.read(CHUNK):
            budget.take(len(chunk))
            out.write(chunk)


def remove_quietly(path: Path) -> None:
    """A file or a folder, whatever is there."""
    with suppress(OSError):
        path.unlink(missing_ok=True)
    shutil.rmtree(path, ignore_errors=True)
