"""What has been received into a study: how much, what depends on it, and how it goes again."""

import time
from dataclasses import dataclass
from pathlib import Path

from kitesort.core.delivery.archive import remove_quietly
from kitesort.core.errors import ConflictError
from kitesort.core.recipe import DeliveredLeaf, leaves_of
from kitesort.store.database import transaction
from kitesort.store.deliveries import PART_SUFFIX, UNPACKING_SUFFIX, get_delivery
from kitesort.store.edits import forget_edits
from kitesort.store.files import remove_kept, uploads_folder
from kitesort.store.layers import readable_recipe, set_kept, uses_layer
from kitesort.store.models import DeliveryRow, LayerRow
from kitesort.store.records import Delivery, Layer
from kitesort.store.scenes import list_scenes

UNFINISHED_SECONDS = 24 * 3600.0


@dataclass(frozen=True)
class Received:
    """A delivery; ``unfinished``: files of it that have not arrived whole; ``scenes``: all that are
    made of it, directly or not."""

    delivery: Delivery
    n_files: int
    n_bytes: int
    n_unfinished: int
    scenes: tuple[Layer, ...]

    @property
    def is_ours(self) -> bool:
        """Whether its files lie in the data folder, and go with it."""
        return Path(self.delivery.folder).is_relative_to(uploads_folder())


def list_received(study_id: int) -> list[Received]:
    """Newest first."""
    with transaction():
        rows = DeliveryRow.select().where(DeliveryRow.study_id == study_id)
        found = [Delivery.model_validate(row) for row in rows.order_by(DeliveryRow.id.desc())]
    scenes = list_scenes(study_id)
    return [_received(delivery, scenes) for delivery in found]


def _received(delivery: Delivery, scenes: list[Layer]) -> Received:
    folder = Path(delivery.folder)
    files = [p for p in folder.rglob("*") if p.is_file()] if delivery.origin != "folder" else []
    unfinished = [p for p in files if _is_unfinished(p)]
    n_bytes = sum(p.stat().st_size for p in files)
    return Received(
        delivery, len(files) - len(unfinished), n_bytes, len(unfinished), _made_of(folder, scenes)
    )


def _is_unfinished(path: Path) -> bool:
    return path.name.startswith(".") and path.name.endswith(PART_SUFFIX)


def _made_of(folder: Path, scenes: list[Layer]) -> tuple[Layer, ...]:
    found = {s.id for s in scenes if _lies_in(s, folder)}
    while True:
        more = {s.id for s in scenes if any(uses_layer(s.id, i) for i in found)} - found
        if not more:
            return tuple(s for s in scenes if s.id in found)
        found |= more


def _lies_in(scene: Layer, folder: Path) -> bool:
    recipe = readable_recipe(scene.id)
    leaves = leaves_of(recipe) if recipe else ()
    folders = (Path(leaf.delivery.folder) for leaf in leaves if isinstance(leaf, DeliveredLeaf))
    return any(one.is_relative_to(folder) for one in folders)


def remove_delivery(delivery_id: int, with_scenes: bool) -> None:
    """Give up what was received; files of ours are deleted, others are left alone. Scenes made of
    it go with it where that is wished, and cannot be brought back.

    Raises
    ------
    NotFoundError. ConflictError : scenes are made of it, or all that the study has.
    """
    delivery = get_delivery(delivery_id)
    with transaction():
        scenes = list_scenes(delivery.study_id)
        received = _received(delivery, scenes)
        _require_no_more_than(received, scenes, with_scenes)
        copies = [set_kept(scene.id, None) for scene in received.scenes]
        gone = LayerRow.id.in_([scene.id for scene in received.scenes])
        LayerRow.update(removed=True).where(gone).execute()
        if received.scenes:
            forget_edits(delivery.study_id)
        DeliveryRow.delete().where(DeliveryRow.id == delivery_id).execute()
    for copy in copies:
        remove_kept(copy)
    if received.is_ours:
        remove_quietly(Path(delivery.folder))


def _require_no_more_than(received: Received, scenes: list[Layer], with_scenes: bool) -> None:
    names = ", ".join(f"“{scene.title}”" for scene in received.scenes)
    if received.scenes and not with_scenes:
        raise ConflictError(f"{names} would lose what they are made of. Say that they may go, too.")
    if received.scenes and len(received.scenes) == len(scenes):
        raise ConflictError(f"{names}: the study has no others. Bring one in first.")


def sweep_uploads() -> int:
    """Take away what has not been sent to the end for a day, and folders that nobody knows; how
    much that was. May be called at any time."""
    oldest = time.time() - UNFINISHED_SECONDS
    with transaction():
        rows = DeliveryRow.select().where(DeliveryRow.origin != "folder")
        known = {str(row.folder): row for row in rows}
    gone = 0
    for folder in [p for p in uploads_folder().iterdir() if p.is_dir()]:
        if str(folder) not in known:
            gone += _remove_when_old(folder, oldest)
            continue
        for path in list(folder.rglob(".*")):
            if path.name.endswith((PART_SUFFIX, UNPACKING_SUFFIX)):
                gone += _remove_when_old(path, oldest)
        row = known[str(folder)]
        if row.created_at.timestamp() < oldest and not any(folder.rglob("*")):
            remove_delivery(row.id, with_scenes=False)
            gone += 1
    return gone


def _remove_when_old(path: Path, oldest: float) -> int:
    if path.stat().st_mtime >= oldest:
        return 0
    remove_quietly(path)
    return 1
