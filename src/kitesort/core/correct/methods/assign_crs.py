"""Another coordinate system is said to be the right one; no pixel moves."""

from dataclasses import replace

from pydantic import Field

from kitesort.core.correct.protocol import CorrectionContext, CorrectionSpec
from kitesort.core.crs_search import require_crs
from kitesort.core.grid_comparison import describe_crs
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


def _apply(raster: Raster, settings: AssignCrsSettings, _: CorrectionContext) -> Raster:
    return PlacedRaster(raster, replace(raster.grid, crs=require_crs(settings.crs)))


SPEC = CorrectionSpec(
    id="assign-crs",
    version=1,
    title="Replace the coordinate system",
    short="placed",
    family="place",
    good_for="A file that names the wrong coordinate system. Nothing is moved.",
    source="PROJ's database of coordinate systems",
    settings=AssignCrsSettings,
    apply=_apply,
    say=lambda s: f"said to be in {describe_crs(s.crs)}",
)
