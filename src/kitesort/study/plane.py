"""Feature space of a study: two layers, the region that is looked at, the classes in it."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.display.feature_space import (
    Axis,
    Density,
    Ellipse,
    SoilLine,
    class_ellipse,
    compute_density,
    exact_density,
    fit_soil_line,
    usual_axis,
)
from kitesort.core.display.tile import read_tile
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.newest import remembered
from kitesort.core.raster.joined import JoinedRaster, join_plane
from kitesort.core.raster.protocol import Block
from kitesort.core.raster.sample import Sample
from kitesort.store.density import find_density_row, store_density_row
from kitesort.study.look import WHOLE, Region, read_study_region
from kitesort.study.rasters import for_display, layer_record, open_layer
from kitesort.study.training import training_state

N_BINS = 128


@dataclass(frozen=True)
class PlaneLayers:
    """What lies on the two axes: a band of a scene each."""

    x_scene: int
    x_role: str
    y_scene: int
    y_role: str

    @property
    def study_id(self) -> int:
        """Raises InputError when the scenes are of two studies."""
        one, two = layer_record(self.x_scene).study_id, layer_record(self.y_scene).study_id
        if one != two:
            raise InputError("The two layers belong to different studies.")
        return one

    @property
    def raster(self) -> JoinedRaster:
        first, second = open_layer(self.x_scene), open_layer(self.y_scene)
        return join_plane(first, self.x_role, second, self.y_role)


@dataclass(frozen=True)
class FoundDensity:
    """``exact``: of every pixel of the region; else of native ones spread over it. ``aligned``:
    whether both layers are on one grid; else the second was brought onto the first's."""

    density: Density
    n_covered: int
    exact: bool
    aligned: bool


@remembered(16)
def plane_values(layers: PlaneLayers, region: Region = WHOLE) -> Sample:
    """Values (2, pixels) of a region, x before y.

    Raises
    ------
    OutsideSceneError, NoValidPixelsError, MissingRoleError
    """
    return read_study_region(layers.raster, layers.study_id, region, ("x", "y"))


def usual_axes(layers: PlaneLayers) -> tuple[Axis, Axis]:
    """The same whatever the region, so that regions can be compared."""
    x, y = plane_values(layers).values
    return usual_axis(x), usual_axis(y)


def find_density(
    layers: PlaneLayers, region: Region = WHOLE, x: Axis | None = None, y: Axis | None = None
) -> FoundDensity:
    """How a region's pixels lie between the axes (the usual ones when None); of all pixels when
    a run has counted them."""
    usual_x, usual_y = usual_axes(layers)
    x, y = x or usual_x, y or usual_y
    raster = layers.raster
    if region == WHOLE and (counted := _counted(layers, x, y)):
        return FoundDensity(counted, raster.grid.whole.n_pixels, True, raster.is_aligned)
    found = plane_values(layers, region)
    density = compute_density(found.values[0], found.values[1], N_BINS, x, y)
    return FoundDensity(density, found.n_covered, found.exact, raster.is_aligned)


def count_density(layers: PlaneLayers, x: Axis, y: Axis, watch: Watch) -> Density:
    """Count every pixel, and remember it."""
    found = exact_density(layers.raster, x, y, N_BINS, watch=watch)
    values = {"counts": found.counts.tolist(), "n_valid": found.n_valid}
    store_density_row(_key(layers, x, y), values)
    return found


def _counted(layers: PlaneLayers, x: Axis, y: Axis) -> Density | None:
    found = find_density_row(_key(layers, x, y))
    if found is None:
        return None
    return Density(x, y, np.asarray(found["counts"], np.int64), found["n_valid"])


def _key(layers: PlaneLayers, x: Axis, y: Axis) -> str:
    return f"{layers.raster.fingerprint}|{x.low}|{x.high}|{y.low}|{y.high}"


def class_ellipses(layers: PlaneLayers) -> dict[int, Ellipse]:
    """By class code, from the training pixels; none when the axes are of two scenes."""
    if layers.x_scene != layers.y_scene or layers.x_role == layers.y_role:
        return {}
    roles = (layers.x_role, layers.y_role)
    state = training_state(layers.study_id, layers.x_scene, roles)
    return {
        code: class_ellipse(s.mean, s.covariance)
        for code, s in state.statistics.items()
        if s.n_pixels > len(roles)
    }


def soil_line(layers: PlaneLayers, region: Region = WHOLE) -> SoilLine:
    """Of near infrared over red.

    Raises
    ------
    BadSettingsError : other axes. NoValidPixelsError : too few land pixels.
    """
    if layers.x_role != "red" or not layers.y_role.startswith("nir"):
        raise BadSettingsError("A soil line is drawn with red across and near infrared up.")
    return fit_soil_line(*plane_values(layers, region).values)


def plane_tile(layers: PlaneLayers, level: int, row: int, col: int) -> Block:
    """A tile of the two layers on the display grid of the first."""
    raster = for_display(layers.raster, layers.study_id)
    return read_tile(raster, level, row, col, ("x", "y"))
