"""Class breaks of a study's layers."""

from kitesort.core.derive.break_start import Start, start_table
from kitesort.core.derive.breaks import BreakCounts, BreakTable, classify_block, count_breaks
from kitesort.core.derive.breaks_recipe import BreaksRecipe
from kitesort.core.derive.index_catalogue import usual_palette
from kitesort.core.raster.protocol import Block, band_positions
from kitesort.store.look import band_sample
from kitesort.store.rasters import left_out_flags, scene_record, usable_scene, usable_tile


def count_in_layer(scene_id: int, role: str, table: BreakTable) -> BreakCounts:
    """How many native pixels, all or spread evenly, each class would get.

    Raises
    ------
    MissingRoleError
    """
    return count_breaks(table, band_sample(scene_id, role))


def start_in_layer(scene_id: int, role: str, n_classes: int, start: Start) -> BreakTable:
    """A table to start from, by usable native pixels, all or spread evenly.

    Raises
    ------
    MissingRoleError, BadSettingsError
    """
    return start_table(band_sample(scene_id, role), n_classes, start, usual_palette(role))


def make_breaks_recipe(scene_id: int, role: str, table: BreakTable) -> BreaksRecipe:
    """Raises MissingRoleError."""
    band_positions(usable_scene(scene_id).bands, (role,))
    return BreaksRecipe(
        scene_id=scene_id,
        scene_name=scene_record(scene_id).title,
        excluded=left_out_flags(scene_id),
        role=role,
        table=table,
    )


def breaks_tile(
    scene_id: int, role: str, table: BreakTable, level: int, row: int, col: int
) -> Block:
    """Class codes of a tile as the kept map would show them; 0 where there is no data."""
    return classify_block(table, usable_tile(scene_id, level, row, col, (role,)))
