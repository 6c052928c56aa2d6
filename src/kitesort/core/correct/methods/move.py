"""A scene that lies a little beside another one is moved into place."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from affine import Affine
from pydantic import Field
from scipy import ndimage

from kitesort.core.engine import Watch
from kitesort.core.errors import NoValidPixelsError
from kitesort.core.grid import Grid, Window
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.raster.window import PlacedRaster
from kitesort.core.settings import Settings

SIDE = 512
UPSAMPLING = 50
LEAST_VALID_SHARE = 0.7
PREFERRED = ("nir", "red", "green", "swir16")


class MoveSettings(Settings):
    scene_id: int | None = Field(
        None,
        title="Measured against the scene",
        description="The shift is measured by phase correlation when it is left to be found.",
        json_schema_extra={"widget": "scene"},
    )
    right_px: float | None = Field(
        None, title="To the right, pixels", ge=-200, le=200,
        description="How far the scene is moved; found when left empty.",
        json_schema_extra={"step": 0.1},
    )  # fmt: skip
    down_px: float | None = Field(
        None, title="Down, pixels", ge=-200, le=200,
        description="How far the scene is moved; found when left empty.",
        json_schema_extra={"step": 0.1},
    )  # fmt: skip


@dataclass(frozen=True)
class Shift:
    """By how many of its pixels a scene must be moved to lie on another one; how many pieces of
    the scene agree with it (to half a pixel), of how many that were looked at."""

    right_px: float
    down_px: float
    n_agreeing: int
    n_pieces: int


def measure_shift(raster: Raster, reference: Raster) -> Shift:
    """Phase correlation in pieces of 512 × 512 pixels at full resolution; the median of all.

    Raises
    ------
    NoValidPixelsError : no piece is valid enough in both, or no band is in common.
    """
    theirs = set(roles_of(reference))
    roles = [r for r in (*PREFERRED, *roles_of(raster)) if r in theirs and r in roles_of(raster)]
    if not roles:
        raise NoValidPixelsError("The two scenes have no band in common to be compared by.")
    onto = WarpedRaster(reference, raster.grid, "bilinear")
    found = []
    for window in _pieces(raster.grid):
        a, b = raster.read(window, (roles[0],)), onto.read(window, (roles[0],))
        both = a.valid & b.valid
        if both.mean() >= LEAST_VALID_SHARE:
            down, right = _shift_of(a.values[0], b.values[0], both)
            found.append((right, down))
    if not found:
        raise NoValidPixelsError("The two scenes have too little valid ground in common.")
    all_found = np.array(found)
    right, down = (float(v) for v in np.median(all_found, axis=0))
    agreeing = (np.abs(all_found - (right, down)) <= 0.5).all(axis=1)
    return Shift(right, down, int(agreeing.sum()), len(found))


def _pieces(grid: Grid) -> list[Window]:
    """At most nine pieces spread over the scene, or the whole of a small one."""
    height, width = min(SIDE, grid.height), min(SIDE, grid.width)
    rows = sorted({round(f * (grid.height - height)) for f in (0.0, 0.5, 1.0)})
    cols = sorted({round(f * (grid.width - width)) for f in (0.0, 0.5, 1.0)})
    return [Window(r, c, height, width) for r in rows for c in cols]


def _shift_of(
    moving: npt.NDArray[np.float32],
    reference: npt.NDArray[np.float32],
    both: npt.NDArray[np.bool_],
) -> tuple[float, float]:
    """Rows and columns by which ``moving`` must be moved.

    Edges are compared, not brightness: crops change, parcels stay. The normalised correlation
    finds the whole pixels and is not misled by large bright things; the plain one is exact to a
    fraction of a pixel, and is believed when it agrees.
    """
    from skimage.registration import phase_cross_correlation  # slow to import, seldom needed

    fade = np.outer(np.hanning(both.shape[0]), np.hanning(both.shape[1]))
    pair = []
    for image in (reference, moving):
        edges = ndimage.gaussian_gradient_magnitude(np.where(both, image, image[both].mean()), 1.0)
        pair.append(
            (edges - edges[both].mean()) * fade * ndimage.binary_erosion(both, iterations=4)
        )
    rough = phase_cross_correlation(*pair, upsample_factor=UPSAMPLING)[0]
    fine = phase_cross_correlation(*pair, upsample_factor=UPSAMPLING, normalization=None)[0]
    shift = fine if np.abs(fine - rough).max() < 1 else rough
    return float(shift[0]), float(shift[1])


def _prepare(
    raster: Raster, settings: MoveSettings, context: Context, _watch: Watch
) -> MoveSettings:
    if settings.right_px is not None and settings.down_px is not None:
        return settings
    if settings.scene_id is None:
        raise NoValidPixelsError("Choose the scene to measure against, or give the shift.")
    shift = measure_shift(raster, context.open_reference(settings.scene_id))
    found = {"right_px": round(shift.right_px, 2), "down_px": round(shift.down_px, 2)}
    given = {k: v for k in found if (v := getattr(settings, k)) is not None}
    return settings.model_copy(update=found | given)


def _apply(raster: Raster, settings: MoveSettings, _: Context) -> Raster:
    by = Affine.translation(settings.right_px or 0.0, settings.down_px or 0.0)
    return PlacedRaster(raster, replace(raster.grid, transform=raster.grid.transform @ by))


def _say(settings: MoveSettings) -> str:
    if settings.right_px is None or settings.down_px is None:
        return f"moved onto scene {settings.scene_id}, by how much to be found"
    return f"moved {settings.right_px:+.2f} pixels to the right and {settings.down_px:+.2f} down"


SPEC = Operation(
    id="move",
    version=1,
    station="correct",
    title="Move into place",
    short="moved",
    family="place",
    good_for="A date that lies a fraction of a pixel, or a few, beside the others. Values are not "
    "touched; bring it onto the other's grid afterwards.",
    source="M. Guizar-Sicairos, S. T. Thurman and J. R. Fienup 2008, Optics Letters 33:156-158, as "
    "in scikit-image",
    settings=MoveSettings,
    open=of_one(_apply),
    say=_say,
    prepare=of_one(_prepare),
    others=lambda s: () if s.scene_id is None else (s.scene_id,),
    takes=ANY_KIND,
)
