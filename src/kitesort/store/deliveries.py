"""Files on their way into a study: received piece by piece, or left in an allowed folder."""

import fcntl
import hashlib
import os
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from kitesort.core.delivery.archive import is_archive, remove_quietly, safe_path, unpack
from kitesort.core.delivery.inventory import Inventory, natural_key, take_inventory
from kitesort.core.errors import ConflictError, InputError, NotFoundError
from kitesort.core.storage import require_space
from kitesort.store.database import transaction
from kitesort.store.files import uploads_folder
from kitesort.store.models import DeliveredFileRow, DeliveryRow
from kitesort.store.records import DeliveredFile, Delivery
from kitesort.store.studies import fetch, get_study

PART_SUFFIX, UNPACKING_SUFFIX = ".part", ".unpacking"


def create_delivery(study_id: int, name: str, origin: str, folder: Path | None = None) -> Delivery:
    """A delivery in ``folder``, or in an empty one of its own."""
    get_study(study_id)
    with transaction():
        row = DeliveryRow.create(
            study_id=study_id, name=name, origin=origin, folder=str(folder or "")
        )
        if folder is None:
            own = uploads_folder() / f"delivery-{row.id}"
            own.mkdir(exist_ok=True)
            DeliveryRow.update(folder=str(own)).where(DeliveryRow.id == row.id).execute()
        return get_delivery(row.id)


def get_delivery(delivery_id: int) -> Delivery:
    return fetch(DeliveryRow, Delivery, delivery_id, "The delivery")


def list_files(delivery_id: int) -> list[DeliveredFile]:
    """Files that have arrived whole."""
    with transaction():
        rows = DeliveredFileRow.select().where(DeliveredFileRow.delivery_id == delivery_id)
        files = [DeliveredFile.model_validate(row) for row in rows]
    return sorted(files, key=lambda f: natural_key(f.path))


def inventory_of(delivery: Delivery) -> Inventory:
    """What lies in a delivery's folder.

    Raises
    ------
    InputError : nothing, or far too much. NotFoundError : the folder is gone.
    """
    folder, title = Path(delivery.folder), Path(delivery.name).name
    if not folder.exists():
        raise NotFoundError(f"{title} is not there any more.")
    if folder.is_file():
        return take_inventory(folder.parent, folder.name)
    return take_inventory(folder, title=title)


@dataclass
class Reception:
    """One file being received: pieces are appended as they come."""

    handle: BinaryIO
    received: int
    size: int

    def write(self, pieces: Sequence[bytes]) -> None:
        """Raises InputError when more comes than was announced."""
        self.received += sum(map(len, pieces))
        if self.received > self.size:
            raise InputError("More was sent than the file's size. Send it again from the start.")
        self.handle.writelines(pieces)


def received_bytes(delivery_id: int, path: str) -> int:
    """How much of a file has arrived, so that sending can go on from there."""
    target = _target(get_delivery(delivery_id), path)
    part = _part_of(target)
    if target.is_file():
        return target.stat().st_size
    return part.stat().st_size if part.is_file() else 0


@contextmanager
def receive(delivery_id: int, path: str, offset: int, size: int) -> Iterator[Reception]:
    """Take up a file at ``offset``; what came is kept even when the connection breaks.

    Raises
    ------
    ConflictError : the file is at another place. DiskFullError. BadSettingsError : a bad name.
    """
    delivery = get_delivery(delivery_id)
    if delivery.origin != "upload":
        raise ConflictError("This delivery is complete; nothing can be added to it.")
    target = _target(delivery, path)
    _make_room_for(target, delivery)
    require_space(target.parent, size - offset)
    part = _part_of(target)
    have = part.stat().st_size if part.is_file() else 0
    if offset > have:
        raise ConflictError(f"Only {have:,} bytes of the file are here; go on from there.")
    with part.open("r+b" if have else "wb") as handle:
        _take_alone(handle, target.name)
        handle.truncate(offset)
        handle.seek(offset)
        yield Reception(handle, offset, size)
        handle.flush()


def _make_room_for(target: Path, delivery: Delivery) -> None:
    """The folder of a file to come.

    Raises
    ------
    ConflictError : there is a folder under its name that was no archive, or a file where a folder
    would have to be.
    """
    root = Path(delivery.folder)
    in_the_way = [p for p in target.parents if p.is_relative_to(root) and p.is_file()]
    if target.is_dir() and checksum_of(delivery.id, str(target.relative_to(root))) is None:
        in_the_way.append(target)
    if in_the_way:
        raise ConflictError(
            f"{in_the_way[0].name} is there already as something else: a file or a folder."
        )
    target.parent.mkdir(parents=True, exist_ok=True)


def _take_alone(handle: BinaryIO, name: str) -> None:
    """Raises ConflictError while the same file is being received through another connection."""
    try:
        fcntl.flock(handle.fileno(), fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError as error:
        raise ConflictError(f"{name} is being sent already, perhaps from another tab.") from error


def complete(delivery_id: int, path: str, reception: Reception) -> bool:
    """Put a whole file in its place, and unpack it when it is an archive; False while there is
    more to come.

    Raises
    ------
    UnreadableFileError : an archive that cannot be trusted.
    """
    if reception.received != reception.size:
        return False
    target = _target(get_delivery(delivery_id), path)
    part = _part_of(target)
    try:
        with part.open("rb") as handle:
            os.fsync(handle.fileno())
    except FileNotFoundError as error:
        raise ConflictError(
            f"{target.name} was finished, or given up, from another window meanwhile."
        ) from error
    packed = reception.size > 0 and is_archive(part, target.name)
    # An archive is not kept, so that this is the moment for its checksum.
    digest = _sha256(part) if packed else ""
    if packed:
        _unpack_into(part, target)
    else:
        if target.is_dir():  # it was an archive when it was sent before
            remove_quietly(target)
        part.replace(target)
    with transaction():
        DeliveredFileRow.insert(
            delivery_id=delivery_id, path=str(safe_path(path)), size=reception.size, sha256=digest
        ).on_conflict(
            conflict_target=[DeliveredFileRow.delivery_id, DeliveredFileRow.path],
            update={"size": reception.size, "sha256": digest},
        ).execute()
    return True


def checksum_of(delivery_id: int, path: str) -> str | None:
    """SHA-256 of a file that has arrived whole, computed when it is first asked for, so that
    receiving does not wait for it; None while it is on its way."""
    with transaction():
        row = DeliveredFileRow.get_or_none(
            DeliveredFileRow.delivery_id == delivery_id,
            DeliveredFileRow.path == str(safe_path(path)),
        )
    if row is None:
        return None
    if row.sha256 == "":
        digest = _sha256(_target(get_delivery(delivery_id), path))
        with transaction():
            DeliveredFileRow.update(sha256=digest).where(DeliveredFileRow.id == row.id).execute()
        return digest
    return str(row.sha256)


def _sha256(path: Path) -> str:
    with path.open("rb") as handle:
        return hashlib.file_digest(handle, "sha256").hexdigest()


def _unpack_into(archive: Path, folder: Path) -> None:
    """Into a folder named like the archive as it was sent, so that each has its own, and sent again
    takes its own place; the archive itself is not kept."""
    making = folder.with_name(f".{folder.name}{UNPACKING_SUFFIX}")
    remove_quietly(making)
    try:
        unpack(archive, making, folder.name)
    finally:
        archive.unlink(missing_ok=True)
    remove_quietly(folder)
    making.replace(folder)


def _target(delivery: Delivery, path: str) -> Path:
    return Path(delivery.folder) / safe_path(path)


def _part_of(target: Path) -> Path:
    return target.with_name(f".{target.name}{PART_SUFFIX}")


def allowed_folders() -> list[Path]:
    """Folders that the administrator lets the server see, besides its own data."""
    named = os.environ.get("KITESORT_FOLDERS", "")
    return [Path(p).resolve() for p in named.split(os.pathsep) if p and Path(p).is_dir()]


def require_allowed(path: str) -> Path:
    """The folder or file, links followed, when it lies inside an allowed folder.

    Raises
    ------
    NotFoundError : it is not there, or not allowed; which of the two is not told.
    """
    wanted = Path(path).resolve()
    if not any(wanted.is_relative_to(root) for root in allowed_folders()) or not wanted.exists():
        raise NotFoundError(
            "There is no such folder among those that the server may see. Ask whoever runs it to "
            "allow it, or drag the files here."
        )
    return wanted


@dataclass(frozen=True)
class FolderEntry:
    """A folder or file that can be opened or taken."""

    name: str
    path: str
    is_folder: bool
    size: int


def list_folder(path: str | None) -> list[FolderEntry]:
    """What lies in an allowed folder; the allowed folders themselves when none is named."""
    if path is None:
        return [FolderEntry(root.name, str(root), True, 0) for root in allowed_folders()]
    folder = require_allowed(path)
    if not folder.is_dir():
        raise InputError("That is a file, not a folder.")
    return _sorted_entries([p for p in folder.iterdir() if not p.name.startswith(".")])


BOUNDARY_SUFFIXES = (".gpkg", ".geojson")
BOUNDARY_DEPTH = 3
MOST_BOUNDARIES = 50


def list_boundaries() -> list[FolderEntry]:
    """Boundary files in the allowed folders and those not far below them; the first of many."""
    found = [
        path
        for root in allowed_folders()
        for depth in range(BOUNDARY_DEPTH)
        for path in root.glob("*/" * depth + "*")
        if path.suffix.lower() in BOUNDARY_SUFFIXES and _is_plain(path, root)
    ]
    return _sorted_entries(found)[:MOST_BOUNDARIES]


def _is_plain(path: Path, root: Path) -> bool:
    hidden = any(part.startswith(".") for part in path.relative_to(root).parts)
    return not hidden and path.is_file() and path.resolve().is_relative_to(root)


def require_boundary(path: str) -> Path:
    """A boundary file in an allowed folder, links followed.

    Raises
    ------
    NotFoundError. InputError : it is no boundary file.
    """
    file = require_allowed(path)
    if not file.is_file() or file.suffix.lower() not in BOUNDARY_SUFFIXES:
        raise InputError("That is no boundary file: choose a GeoPackage or GeoJSON.")
    return file


def _sorted_entries(paths: Sequence[Path]) -> list[FolderEntry]:
    entries = [
        FolderEntry(p.name, str(p), p.is_dir(), 0 if p.is_dir() else p.stat().st_size)
        for p in paths
        if p.exists()
    ]
    return sorted(entries, key=lambda e: (not e.is_folder, natural_key(e.name)))
