"""Scenes for corrections without any store: rasters by id, with one delivery behind them."""

from collections.abc import Mapping
from pathlib import Path

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import LayerReader


def context_of(
    rasters: Mapping[int, Raster] | None = None, delivery: DeliveredScene | None = None
) -> Context:
    known = rasters or {}
    return Context(lambda scene_id, _: known[scene_id], delivery)


def reader_of(*metadata: Path) -> LayerReader:
    """Delivered scenes with the ids 1, 2, 3 and so on."""
    deliveries = {i: read_delivery(path) for i, path in enumerate(metadata, start=1)}

    def open_scene(scene_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
        return open_delivery(deliveries[scene_id], excluded)

    return LayerReader(open_scene, lambda scene_id: deliveries[scene_id])
