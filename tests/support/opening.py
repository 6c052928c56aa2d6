"""An operation on rasters, without a recipe."""

from typing import Any

from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.operation import Context, Operation
from kitesort.core.raster.protocol import Raster

Given = Raster | tuple[Raster, ...]


def open_by(spec: Operation, given: Given, settings: Any, context: Context | None = None) -> Raster:
    """The operation's raster, with settings that leave nothing open."""
    return spec.open(_inputs(given), settings, context or NOTHING_ELSE)


def prepare_by(
    spec: Operation, given: Given, settings: Any, context: Context, watch: Watch = UNWATCHED
) -> Any:
    """Settings that leave nothing open."""
    return spec.prepare(_inputs(given), settings, context, watch)


def _inputs(given: Given) -> tuple[Raster, ...]:
    return given if isinstance(given, tuple) else (given,)


def _no_other(layer_id: int, _: tuple[str, ...]) -> Raster:
    raise AssertionError(f"asked for layer {layer_id}")


NOTHING_ELSE = Context(_no_other)
