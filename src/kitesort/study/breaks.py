"""Class breaks of a study's layers."""

from kitesort.core.classify.operations.breaks import SPEC, BreaksSettings
from kitesort.core.derive.break_start import Start, start_table
from kitesort.core.derive.breaks import BreakCounts, BreakTable, classify_block, count_breaks
from kitesort.core.derive.index_catalogue import usual_palette
from kitesort.core.raster.protocol import Block, band_positions
from kitesort.core.recipe import Node
from kitesort.study.look import band_sample
from kitesort.study.rasters import left_out_flags, open_layer, opened, usable_tile
from kitesort.study.training import map_recipe


def count_in_layer(scene_id: int, role: str, table: BreakTable) -> BreakCounts:
    """How many native pixels, all or spread evenly, each class would get.

    Raises
    ------
    MissingRoleError
    """
    return count_breaks(table, band_sample(opened(scene_id), role))


def start_in_layer(scene_id: int, role: str, n_classes: int, start: Start) -> BreakTable:
    """A table to start from, by usable native pixels, all or spread evenly.

    Raises
    ------
    MissingRoleError, BadSettingsError
    """
    return start_table(band_sample(opened(scene_id), role), n_classes, start, usual_palette(role))


def breaks_recipe(scene_id: int, role: str, table: BreakTable) -> Node:
    """Raises MissingRoleError."""
    band_positions(open_layer(scene_id).bands, (role,))
    settings = BreaksSettings(role=role, excluded=left_out_flags(scene_id), table=table)
    return map_recipe(scene_id, SPEC.id, settings)


def breaks_tile(
    scene_id: int, role: str, table: BreakTable, level: int, row: int, col: int
) -> Block:
    """Class codes of a tile as the kept map would show them; 0 where there is no data."""
    return classify_block(table, usable_tile(scene_id, level, row, col, (role,)))
