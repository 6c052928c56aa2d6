"""A smaller scene: a rectangle of coordinates, or areas outside of which is no data."""

from typing import Any

from pydantic import Field, model_validator

from kitesort.core.area_mask import area_mask, window_of_areas
from kitesort.core.correct.methods._masked import MaskedRaster
from kitesort.core.errors import OutsideSceneError
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.window import WindowRaster
from kitesort.core.settings import Settings


class Extent(Settings):
    """A rectangle in the scene's CRS and its units."""

    left: float
    bottom: float
    right: float
    top: float

    @model_validator(mode="after")
    def _in_order(self) -> "Extent":
        if not (self.left < self.right and self.bottom < self.top):
            raise ValueError("left must be below right, and bottom below top")
        return self


class CropSettings(Settings):
    extent: Extent | None = Field(
        None,
        title="Coordinates",
        description="Whole pixels that the rectangle touches are kept.",
        json_schema_extra={"widget": "extent"},
    )
    areas: tuple[dict[str, Any], ...] = Field(
        (),
        title="Areas",
        description="Outside of them is no data, and never a class.",
        max_length=500,
        json_schema_extra={"widget": "areas"},
    )

    @model_validator(mode="after")
    def _one_of_them(self) -> "CropSettings":
        if (self.extent is None) == (not self.areas):
            raise ValueError("give either coordinates or areas")
        return self


def _apply(raster: Raster, settings: CropSettings, _: Context) -> Raster:
    if settings.areas:
        part = WindowRaster(raster, window_of_areas(raster.grid, settings.areas))
        usable = area_mask(part.grid, settings.areas)
        return MaskedRaster(part, usable, repr(usable))
    assert settings.extent is not None
    e = settings.extent
    window = raster.grid.window_of_bounds((e.left, e.bottom, e.right, e.top))
    if window is None:
        raise OutsideSceneError("The coordinates miss the scene altogether.")
    return WindowRaster(raster, window)


def _say(settings: CropSettings) -> str:
    if settings.areas:
        n = len(settings.areas)
        return "cropped to an area" if n == 1 else f"cropped to {n} areas"
    e = settings.extent
    assert e is not None
    return f"cropped to {e.left:,.10g} to {e.right:,.10g}, {e.bottom:,.10g} to {e.top:,.10g}"


SPEC = Operation(
    id="crop",
    version=1,
    station="correct",
    title="Crop",
    short="cropped",
    family="place",
    good_for="Working on the ground that matters, and nothing else.",
    source="Pixels whose centres lie inside",
    settings=CropSettings,
    open=of_one(_apply),
    say=_say,
    takes=ANY_KIND,
)
