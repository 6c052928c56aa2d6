"""Do a queued run, whatever its kind; every outcome ends as a sentence in its row."""

from collections.abc import Callable

from kitesort.core.errors import CancelledError, KiteSortError
from kitesort.core.storage import is_about_space
from kitesort.runs.count_clusters import count_clusters
from kitesort.runs.density import count_plane
from kitesort.runs.derive import derive_layers
from kitesort.runs.keep_layer import keep_layer
from kitesort.runs.make_clusters import make_clusters
from kitesort.runs.make_map import make_map
from kitesort.runs.make_polygons import make_polygons
from kitesort.runs.statistics import count_exactly
from kitesort.runs.take_ground import bring_in_ground
from kitesort.runs.take_scene import take_scene
from kitesort.runs.try_methods import try_layers, try_methods
from kitesort.store.database import note_writing
from kitesort.store.files import remove_files_of_run
from kitesort.store.records import Run
from kitesort.store.runs import end_cancelled, fail_run, get_run, start_run

KINDS: dict[str, Callable[[Run], None]] = {
    "map": make_map,
    "keep": keep_layer,
    "take-scene": take_scene,
    "take-ground": bring_in_ground,
    "statistics": count_exactly,
    "density": count_plane,
    "derive": derive_layers,
    "try-methods": try_methods,
    "try-layers": try_layers,
    "clusters": make_clusters,
    "count-clusters": count_clusters,
    "polygons": make_polygons,
}


def perform_run(run_id: int) -> None:
    note_writing()  # by the server since the last one
    run = start_run(run_id)
    if run is None:
        return
    try:
        KINDS[run.kind](run)
    except Exception as error:
        if get_run(run_id).state == "done":
            raise  # what it made is kept; only what came after went wrong
        remove_files_of_run(run_id)
        _end(run_id, error)


def _end(run_id: int, error: Exception) -> None:
    """Record why a run came to nothing; an unforeseen error is raised again, for the log."""
    if isinstance(error, CancelledError):
        end_cancelled(run_id)
    elif isinstance(error, KiteSortError):
        fail_run(run_id, error.sentence)
    elif is_about_space(error):
        fail_run(run_id, "The disk is full. Nothing was kept; make room and start it again.")
    else:
        fail_run(
            run_id,
            "Something unexpected went wrong; nothing half-written was kept. "
            "The settings are kept: start the run again, and look at the server's log.",
        )
        raise error
