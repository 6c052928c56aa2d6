"""Another grid: reprojected, resampled, or brought exactly onto another scene's pixels."""

from typing import Literal

from affine import Affine
from pydantic import Field

from kitesort.core.crs_search import require_crs
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Grid
from kitesort.core.grid_comparison import describe_crs
from kitesort.core.grid_data import MAX_SIDE, GridData
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.warp import WarpedRaster, require_meeting, suggest_grid
from kitesort.core.settings import Settings, titled


class RegridSettings(Settings):
    scene_id: int | None = Field(
        None,
        title="Onto the grid of",
        description="Pixel for pixel the same as that scene. Needed before two dates are compared.",
        json_schema_extra={"widget": "scene"},
    )
    crs: str | None = Field(
        None,
        title="Into the coordinate system",
        description="The pixels are moved to where they belong in it. Its code, or search by name.",
        json_schema_extra={"widget": "crs"},
    )
    pixel_size: float | None = Field(
        None, title="Pixel size", description="In units of the coordinate system.", gt=0
    )
    resampling: Literal["nearest", "bilinear", "cubic", "average"] = Field(
        "nearest",
        title="Resampling",
        description="Nearest neighbour keeps measured values; bilinear and cubic smooth. Onto "
        "coarser pixels these two average, too: all that is measured there counts.",
        json_schema_extra=titled(
            {
                "nearest": "nearest neighbour",
                "bilinear": "bilinear",
                "cubic": "cubic",
                "average": "mean of all that is there",
            }
        ),
    )
    grid: GridData | None = Field(None, title="Grid", json_schema_extra={"widget": "hidden"})


def _prepare(raster: Raster, settings: RegridSettings, context: Context, _watch: Watch) -> Settings:
    return settings.model_copy(
        update={"grid": GridData.of(_choose_grid(raster, settings, context))}
    )


def _choose_grid(raster: Raster, settings: RegridSettings, context: Context) -> Grid:
    if settings.scene_id is not None:
        grid = context.open_reference(settings.scene_id).grid
    else:
        grid = suggest_grid(raster.grid, require_crs(settings.crs or raster.grid.crs))
        if settings.pixel_size is not None:
            grid = _with_pixels(grid, settings.pixel_size)
    require_meeting(raster.grid, grid)
    return grid


def _with_pixels(grid: Grid, size: float) -> Grid:
    left, bottom, right, top = grid.bounds
    rows, columns = (max(1, round(d / size)) for d in (top - bottom, right - left))
    if max(rows, columns) > MAX_SIDE:
        raise BadSettingsError(
            f"Pixels of {size:g} would make {rows:,} × {columns:,} of them; that is too many."
        )
    return Grid(grid.crs, Affine(size, 0, left, 0, -size, top), rows, columns)


def _apply(raster: Raster, settings: RegridSettings, context: Context) -> Raster:
    grid = settings.grid.to_grid() if settings.grid else _choose_grid(raster, settings, context)
    if settings.resampling != "nearest" and any(band.kind == "classes" for band in raster.bands):
        raise BadSettingsError("Class codes cannot be averaged: choose nearest neighbour.")
    return WarpedRaster(raster, grid, settings.resampling)


def _say(settings: RegridSettings) -> str:
    how = {"nearest": "nearest neighbour"}.get(settings.resampling, settings.resampling)
    if settings.scene_id is not None:
        return f"brought onto the grid of scene {settings.scene_id}, {how}"
    where = f" into {describe_crs(settings.crs)}" if settings.crs else ""
    size = f" at pixels of {settings.pixel_size:g}" if settings.pixel_size else ""
    return f"reprojected{where}{size}, {how}" if where else f"resampled{size}, {how}"


SPEC = Operation(
    id="regrid",
    version=1,
    station="correct",
    title="Reproject or resample",
    short="regridded",
    family="place",
    good_for="Bringing a scene into another coordinate system, or onto another scene's pixels.",
    source="Keys 1981 for cubic; the others are textbook",
    settings=RegridSettings,
    open=of_one(_apply),
    say=_say,
    prepare=of_one(_prepare),
    others=lambda s: () if s.scene_id is None else (s.scene_id,),
    takes=ANY_KIND,
)
