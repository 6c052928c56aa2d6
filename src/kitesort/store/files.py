"""The data folder: where kept layers lie, and what may be swept away."""

import os
import time
from pathlib import Path

EXPORT_SECONDS = 7 * 86_400


def data_folder() -> Path:
    return Path(os.environ.get("KITESORT_DATA", "data")).resolve()


def layer_folder() -> Path:
    folder = data_folder() / "layers"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def classifier_folder() -> Path:
    folder = data_folder() / "classifiers"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def ground_folder() -> Path:
    """Files of others with training sites, kept while they are looked at and taken."""
    folder = data_folder() / "ground"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def export_path(name: str) -> Path:
    """Of a file that was made to be taken away, and can be made again."""
    folder = data_folder() / "exports"
    folder.mkdir(parents=True, exist_ok=True)
    return folder / name


def sweep_exports() -> int:
    """Take away what was made more than a week ago; how much that was."""
    oldest = time.time() - EXPORT_SECONDS
    old = [p for p in export_path("").iterdir() if p.is_file() and p.stat().st_mtime < oldest]
    for path in old:
        path.unlink(missing_ok=True)
    return len(old)


def uploads_folder() -> Path:
    folder = data_folder() / "uploads"
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def layer_path(name: str) -> Path:
    """Absolute path of a kept layer's file from the name in its row."""
    return layer_folder() / name


def remove_kept(name: str | None) -> None:
    """A file that no row names any more; whoever reads it still can do so to the end."""
    if name:
        layer_path(name).unlink(missing_ok=True)


def remove_files_of_run(run_id: int) -> None:
    """What a run that came to nothing has written: each of its files, and each that was not
    finished, has the run's number in its name."""
    for folder in (layer_folder(), classifier_folder(), export_path("")):
        for path in folder.glob(f"*-run-{run_id}.*"):
            path.unlink(missing_ok=True)


def sweep_strays(folder: Path, known: set[str]) -> int:
    """Remove half-written and unreferenced files; only call while no run is at work."""
    strays = [p for p in folder.iterdir() if p.is_file() and p.name not in known]
    for path in strays:
        path.unlink(missing_ok=True)
    return len(strays)
