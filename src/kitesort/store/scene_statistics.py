"""Statistics of scenes: at once from pixels spread over them, exact ones as a run counted them."""

from dataclasses import asdict
from functools import lru_cache

from pydantic import TypeAdapter

from kitesort.core.statistics import RasterStatistics, quick_statistics
from kitesort.store.database import transaction
from kitesort.store.models import SceneRow
from kitesort.store.rasters import usable_scene

_ADAPTER = TypeAdapter(RasterStatistics)
_quick = lru_cache(maxsize=256)(lambda scene_id: quick_statistics(usable_scene(scene_id)))


def scene_statistics(scene_id: int) -> RasterStatistics:
    """The exact ones when they have been counted, else those of native pixels spread evenly."""
    with transaction():
        row = SceneRow.get_or_none(SceneRow.id == scene_id)
    if row is not None and row.statistics is not None:
        return _ADAPTER.validate_python(row.statistics)
    return _quick(scene_id)


def store_statistics(scene_id: int, found: RasterStatistics) -> None:
    with transaction():
        SceneRow.update(statistics=asdict(found)).where(SceneRow.id == scene_id).execute()
