"""Another coordinate system is said to be the right one; no pixel moves."""

from dataclasses import replace

from pydantic import Field

from kitesort.core.crs_search import require_crs
from kitesort.core.grid_comparison import describe_crs
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.window import PlacedRaster
from kitesort.core.settings import Settings


class AssignCrsSettings(Settings):
    crs: str = Field(
        title="Coordinate system that it really is in",
        description="For a scene whose file says something wrong. The coordinates stay as they "
        "are; to move the pixels, reproject instead.",
        json_schema_extra={"widget": "crs"},
    )


def _apply(raster: Raster, settings: AssignCrsSettings, _: Context) -> Raster:
    return PlacedRaster(raster, replace(raster.grid, crs=require_crs(settings.crs)))


SPEC = Operation(
    id="assign-crs",
    version=1,
    station="correct",
    title="Replace the coordinate system",
    short="placed",
    family="place",
    good_for="A file that names the wrong coordinate system. Nothing is moved.",
    source="PROJ's database of coordinate systems",
    settings=AssignCrsSettings,
    open=of_one(_apply),
    say=lambda s: f"said to be in {describe_crs(s.crs)}",
    takes=ANY_KIND,
)
