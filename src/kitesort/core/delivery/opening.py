"""A delivered scene as one raster: bands on one grid, unusable pixels not valid, values that mean
something."""

from typing import Literal

from kitesort.core.bands import Quantity
from kitesort.core.delivery.calibration import AS_DELIVERED, BandFactors, calibrate
from kitesort.core.delivery.scene import (
    DEFAULT_EXCLUDED,
    DeliveredBand,
    DeliveredScene,
    require_complete,
)
from kitesort.core.errors import MissingRoleError
from kitesort.core.grid import Grid
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.stack import StackRaster

Asked = Literal["reflectance", "radiance", "numbers"]


def open_delivery(
    scene: DeliveredScene,
    excluded: tuple[str, ...] = DEFAULT_EXCLUDED,
    quantity: Asked | None = None,
) -> Raster:
    """The scene on the grid that was chosen, each band as its own factors make it: reflectance,
    thermal bands as brightness temperature, numbers where there are none; or as ``quantity``, which
    all bands but thermal ones must be able to become.

    ``excluded`` names the quality flags whose pixels are not valid.

    Raises
    ------
    InputError : bands that do not fit together. UnreadableFileError : a damaged file.
    MissingRoleError : a band without the factors that are asked for.
    """
    stack = open_numbers(scene, excluded)
    factors = {band.role: _factors_of(band, quantity) for band in scene.used_bands}
    missing = [role for role, found in factors.items() if found is None]
    if missing:
        raise MissingRoleError(
            f"The metadata of {scene.name} gives no {quantity} factors for {', '.join(missing)}. "
            "Leave these bands out, or give a scale and offset."
        )
    if all(found == AS_DELIVERED for found in factors.values()):
        return stack
    sun = scene.sun_elevation_deg if scene.divide_by_sine else None
    return calibrate(stack, {role: f for role, f in factors.items() if f}, sun)


def _factors_of(band: DeliveredBand, quantity: Asked | None) -> BandFactors | None:
    """Factors of a band for a quantity, None where it has none; its best when nothing is asked."""
    if quantity == "numbers":
        return AS_DELIVERED
    if quantity != "radiance" and band.gain is not None:
        return BandFactors(band.gain, band.offset, band.quantity)
    if band.radiance_gain is not None and (quantity == "radiance" or band.thermal):
        thermal = None if quantity == "radiance" else band.thermal
        meaning: Quantity = "temperature" if thermal else "radiance"
        return BandFactors(band.radiance_gain, band.radiance_offset, meaning, thermal)
    return None if quantity else AS_DELIVERED


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
