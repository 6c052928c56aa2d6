"""What lies in a delivered folder: every file with its kind, in the order people read names."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path, PurePosixPath
from typing import Literal

from affine import Affine

from kitesort.core.errors import InputError, KiteSortError, UnreadableFileError
from kitesort.core.raster.file import DRIVERS, crs_of, open_dataset, require_readable

Kind = Literal["raster", "text", "other"]
MAX_FILES = 5_000
MAX_TEXT_BYTES = 20_000_000
TEXT_SUFFIXES = (".txt", ".xml", ".met", ".json", ".csv")


@dataclass(frozen=True)
class RasterFacts:
    """The head of a raster file; nothing of its pixels."""

    rows: int
    columns: int
    count: int
    dtype: str
    crs: str | None
    transform: Affine
    nodata: float | None
    descriptions: tuple[str, ...]
    colours: tuple[str, ...]

    @property
    def pixel_size(self) -> float:
        return abs(self.transform.a)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, bottom, right, top."""
        left, top = self.transform @ (0, 0)
        right, bottom = self.transform @ (self.columns, self.rows)
        return left, bottom, right, top


@dataclass(frozen=True)
class FoundFile:
    """A file by its path inside the folder; ``problem`` says why a raster cannot be used."""

    path: str
    size: int
    kind: Kind
    raster: RasterFacts | None = None
    problem: str | None = None

    @property
    def name(self) -> str:
        return PurePosixPath(self.path).name

    @property
    def stem(self) -> str:
        return PurePosixPath(self.path).stem

    @property
    def folder(self) -> str:
        return str(PurePosixPath(self.path).parent)


@dataclass(frozen=True)
class Inventory:
    """All files of a folder; ``root`` is absolute. ``title`` is what people call it."""

    root: Path
    files: tuple[FoundFile, ...] = field(default=())
    title: str = ""

    @cached_property
    def by_path(self) -> dict[str, FoundFile]:
        return {f.path: f for f in self.files}

    def in_folder_of(self, file: FoundFile, name: str) -> FoundFile | None:
        """The file of that name beside another one, whatever the case of its letters."""
        wanted = name.casefold()
        beside = (f for f in self.files if f.folder == file.folder)
        return next((f for f in beside if f.name.casefold() == wanted), None)

    def named_like(self, file: FoundFile, stem: str) -> frozenset[str]:
        """Paths of the files beside another one whose names begin so, whatever the case."""
        return frozenset(
            f.path
            for f in self.files
            if f.folder == file.folder and f.name.casefold().startswith(stem.casefold())
        )

    def read_text(self, file: FoundFile) -> str:
        """Raises UnreadableFileError when it is no text, or far too large to be metadata."""
        if file.size > MAX_TEXT_BYTES:
            raise UnreadableFileError(f"{file.name} is too large to be a scene's metadata.")
        try:
            return (self.root / file.path).read_text("utf-8-sig")
        except (OSError, UnicodeDecodeError) as error:
            raise UnreadableFileError(f"{file.name} cannot be read as text.") from error


def natural_key(text: str) -> tuple[tuple[int, int, str], ...]:
    """Sort key under which 2 comes before 10, and 8 before 8A."""
    parts = re.split(r"(\d+)", text.casefold())
    return tuple((0, int(p), "") if p.isdecimal() else (1, 0, p) for p in parts)


def take_inventory(root: Path, only: str | None = None, title: str = "") -> Inventory:
    """Look at every file below a folder, or at one of them; links are not followed. ``title`` where
    people call it by another name than the folder's.

    Raises
    ------
    InputError : more files than a delivery can have, or none.
    """
    root = root.resolve()
    files: list[FoundFile] = []
    for path in _walk(root, only):
        if len(files) >= MAX_FILES:
            raise InputError(
                f"There are more than {MAX_FILES:,} files here. Choose the folder of one delivery."
            )
        files.append(_look_at(root, path))
    if not files:
        raise InputError("There is no file here.")
    ordered = tuple(sorted(files, key=lambda f: natural_key(f.path)))
    return Inventory(root, ordered, title or root.name)


def _walk(root: Path, only: str | None) -> Iterator[Path]:
    for path in root.rglob("*") if only is None else [root / only]:
        hidden = any(part.startswith(".") for part in path.relative_to(root).parts)
        if not hidden and path.is_file() and path.resolve().is_relative_to(root):
            yield path


def _look_at(root: Path, path: Path) -> FoundFile:
    relative, size = path.relative_to(root).as_posix(), path.stat().st_size
    with path.open("rb") as handle:
        head = handle.read(4)
    if head in DRIVERS:
        return _look_at_raster(relative, path, size)
    if path.suffix.lower() in (".tif", ".tiff", ".jp2"):
        return FoundFile(relative, size, "raster", None, _mislabelled(path.name, size))
    kind: Kind = "text" if path.suffix.lower() in TEXT_SUFFIXES else "other"
    return FoundFile(relative, size, kind)


def _mislabelled(name: str, size: int) -> str:
    if size == 0:
        return f"{name} is empty. Deliver it again."
    return f"{name} is neither a GeoTIFF nor a JPEG 2000 picture, whatever its name says."


def _look_at_raster(relative: str, path: Path, size: int) -> FoundFile:
    try:
        dataset = open_dataset(str(path))
        require_readable(dataset, path.name)
    except KiteSortError as error:
        return FoundFile(relative, size, "raster", None, error.sentence)
    transform = dataset.transform
    facts = RasterFacts(
        rows=dataset.height,
        columns=dataset.width,
        count=dataset.count,
        dtype=str(dataset.dtypes[0]),
        crs=crs_of(dataset),
        transform=transform,
        nodata=dataset.nodata,
        descriptions=tuple(d or "" for d in dataset.descriptions),
        colours=tuple(c.name for c in dataset.colorinterp),
    )
    problem = None
    if transform.b or transform.d:
        problem = f"{path.name} is rotated against its coordinate system. Warp it to north-up."
    elif transform.e >= 0:
        problem = f"{path.name} lies upside down or has no place on the ground. Georeference it."
    return FoundFile(relative, size, "raster", facts, problem)
