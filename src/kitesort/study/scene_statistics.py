"""Statistics of scenes: at once from pixels spread over them, exact ones as a run counted them."""

from dataclasses import asdict

from pydantic import TypeAdapter

from kitesort.core.newest import remembered
from kitesort.core.statistics import RasterStatistics, quick_statistics
from kitesort.store.layers import store_statistics, stored_statistics
from kitesort.study.rasters import open_layer

_ADAPTER = TypeAdapter(RasterStatistics)
_quick = remembered(256)(lambda scene_id: quick_statistics(open_layer(scene_id)))


def scene_statistics(scene_id: int) -> RasterStatistics:
    """The exact ones when they have been counted, else those of native pixels spread evenly."""
    stored = stored_statistics(scene_id)
    return _quick(scene_id) if stored is None else _ADAPTER.validate_python(stored)


def remember_statistics(scene_id: int, found: RasterStatistics) -> None:
    store_statistics(scene_id, asdict(found))
