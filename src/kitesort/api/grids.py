"""Grids as they go over the wire."""

from kitesort.api.schemas import ExtentOut, GridOut
from kitesort.core.display.tile import TILE_SIZE, TileScheme
from kitesort.core.geodesy import units_across_m
from kitesort.core.grid import Grid, unit_name


def grid_out(grid: Grid) -> GridOut:
    left, bottom, right, top = grid.bounds
    return GridOut(
        crs=grid.crs,
        is_geographic=grid.is_geographic,
        unit=unit_name(grid.crs),
        units_m=list(units_across_m(grid)),
        rows=grid.height,
        columns=grid.width,
        pixel_size=grid.pixel_size[0],
        extent=ExtentOut(left=left, bottom=bottom, right=right, top=top),
        n_levels=TileScheme(grid).n_levels,
        tile_size=TILE_SIZE,
    )
