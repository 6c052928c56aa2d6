"""Values along a drawn line in several layers."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.display.profile import LinePlaces, place_along, read_places
from kitesort.core.geometry import is_same_crs
from kitesort.core.raster.warp import transformer
from kitesort.study.rasters import open_layer, opened, require_own, study_crs


@dataclass(frozen=True)
class LineMember:
    """A band of a scene whose values are read along the line."""

    scene_id: int
    role: str


@dataclass(frozen=True)
class LineProfile:
    """``values`` (members, places), not a number where there is no valid pixel."""

    places: LinePlaces
    pixel_m: float
    values: npt.NDArray[np.float64]


def read_line(
    study_id: int, vertices: Sequence[tuple[float, float]], members: Sequence[LineMember]
) -> LineProfile:
    """Values every pixel of the first member's scene along a line given in the study's CRS.

    Raises
    ------
    InputError : a scene of another study. BadSettingsError : no line. MissingRoleError
    """
    require_own(study_id, (m.scene_id for m in members))
    crs = study_crs(study_id)
    size = opened(members[0].scene_id).shown.grid.pixel_size[0]
    places = place_along(vertices, crs, size)
    values = np.vstack([_read(member, places, crs) for member in members])
    steps = np.hypot(np.diff(places.x), np.diff(places.y))
    length = float(places.distance_m[-1])
    return LineProfile(places, size * length / max(float(steps.sum()), 1e-9), values)


def _read(member: LineMember, places: LinePlaces, crs: str) -> npt.NDArray[np.float64]:
    raster = open_layer(member.scene_id, "see")
    x, y = places.x, places.y
    if not is_same_crs(crs, raster.grid.crs):
        x, y = transformer(crs, raster.grid.crs).transform(x, y)
    return read_places(raster, x, y, (member.role,))
