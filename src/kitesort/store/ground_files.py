"""Files with training sites on their way into a study: kept for a while, by their contents."""

import hashlib
import re
import time
from pathlib import Path

from kitesort.core.errors import NotFoundError
from kitesort.core.storage import put_in_place, storage_errors, temporary_beside
from kitesort.store.files import ground_folder

KEPT_S = 24 * 3600.0
MOST_KEPT = 40
TOKEN = re.compile(r"[0-9a-f]{40}")


def keep_ground_file(content: bytes) -> str:
    """Keep a file for a day; what it is asked for by."""
    token = hashlib.blake2b(content, digest_size=20).hexdigest()
    path = ground_folder() / token
    _sweep(keep=token)
    if not path.exists():
        with temporary_beside(path) as part, storage_errors(path):
            part.write_bytes(content)
            put_in_place(part, path)
    path.touch()
    return token


def ground_file(token: str) -> bytes:
    """Raises NotFoundError."""
    path = ground_folder() / token
    if not TOKEN.fullmatch(token) or not path.is_file():
        raise NotFoundError("The file is not kept any more. Choose it again.")
    return path.read_bytes()


def _sweep(keep: str) -> None:
    """Out with what is old, and with the oldest of too many."""
    files = [path for path in ground_folder().iterdir() if path.name != keep]
    dated = sorted(((_changed(path), path) for path in files), reverse=True)
    for place, (changed, path) in enumerate(dated):
        if place >= MOST_KEPT or time.time() - changed > KEPT_S:
            path.unlink(missing_ok=True)


def _changed(path: Path) -> float:
    try:
        return path.stat().st_mtime
    except FileNotFoundError:
        return 0.0
