"""A delivered scene as one raster: bands on one grid, unusable pixels not valid, values that mean
something."""

from kitesort.core.correct.calibration import BandFactors, calibrate
from kitesort.core.delivery.scene import (
    DEFAULT_EXCLUDED,
    DeliveredScene,
    Quantity,
    require_complete,
)
from kitesort.core.errors import MissingRoleError
from kitesort.core.grid import Grid
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.stack import StackRaster


def open_delivery(
    scene: DeliveredScene,
    excluded: tuple[str, ...] = DEFAULT_EXCLUDED,
    quantity: Quantity | None = None,
) -> Raster:
    """The scene as reflectance (when there are factors) on the grid that was chosen.

    ``excluded`` names the quality flags whose pixels are not valid.

    Raises
    ------
    InputError : bands that do not fit together. UnreadableFileError : a damaged file.
    """
    stack = open_numbers(scene, excluded)
    wanted = quantity or scene.quantity
    if wanted == "numbers":
        return stack
    if wanted == "radiance":
        return calibrate(stack, _radiance_factors(scene), None)
    sun = scene.sun_elevation_deg if scene.divide_by_sine else None
    return calibrate(stack, _reflectance_factors(scene), sun)


def open_numbers(
    scene: DeliveredScene, excluded: tuple[str, ...] = DEFAULT_EXCLUDED
) -> StackRaster:
    """The stack of the numbers as they were delivered."""
    require_complete(scene)
    members = tuple(scene.file_of(role) for role in scene.roles)
    return StackRaster(
        choose_grid(scene, members),
        members,
        scene.quality_raster(),
        scene.flags_named(excluded),
        scene.stack.resampling,
    )


def choose_grid(scene: DeliveredScene, members: tuple[FileRaster, ...]) -> Grid:
    """The grid of the finest, the coarsest or the named band."""
    if scene.stack.grid == "finest":
        return min(members, key=lambda m: m.grid.pixel_size[0]).grid
    if scene.stack.grid == "coarsest":
        return max(members, key=lambda m: m.grid.pixel_size[0]).grid
    return members[scene.roles.index(scene.stack.grid)].grid


def _reflectance_factors(scene: DeliveredScene) -> dict[str, BandFactors]:
    factors = {b.role: BandFactors(b.gain, b.offset) for b in scene.used_bands
               if b.gain is not None}  # fmt: skip
    _require_all(scene, factors, "reflectance")
    return factors


def _radiance_factors(scene: DeliveredScene) -> dict[str, BandFactors]:
    factors = {b.role: BandFactors(b.radiance_gain, b.radiance_offset) for b in scene.used_bands
               if b.radiance_gain is not None}  # fmt: skip
    _require_all(scene, factors, "radiance")
    return factors


def _require_all(scene: DeliveredScene, factors: dict[str, BandFactors], what: str) -> None:
    missing = [role for role in scene.roles if role not in factors]
    if missing:
        raise MissingRoleError(
            f"The metadata of {scene.name} gives no {what} factors for {', '.join(missing)}. "
            "Leave these bands out, or give a scale and offset."
        )
