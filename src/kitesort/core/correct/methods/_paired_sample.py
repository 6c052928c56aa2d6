"""Pixels of two scenes that show the same ground, in both valid."""

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.bands import Quantity
from kitesort.core.errors import GridMismatchError, MissingRoleError, NoValidPixelsError
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.sample import plan_sample
from kitesort.core.settings import Settings

LEAST_PIXELS = 50


class LikeSceneSettings(Settings):
    """Of steps that bring a scene to another one's scale: its values mean afterwards what that
    one's mean, which is found when the step is prepared."""

    scene_id: int
    quantities: dict[str, Quantity] = Field(
        default_factory=dict, title="Quantities", json_schema_extra={"widget": "hidden"}
    )


def quantities_of(raster: Raster, roles: tuple[str, ...]) -> dict[str, Quantity]:
    """What the values of each of the bands mean."""
    return {band.role: band.quantity for band in raster.bands if band.role in roles}


def common_roles(a: Raster, b: Raster) -> tuple[str, ...]:
    """Roles that both have, in the first one's order.

    Raises
    ------
    MissingRoleError
    """
    theirs = set(roles_of(b))
    roles = tuple(role for role in roles_of(a) if role in theirs)
    if not roles:
        raise MissingRoleError("The two scenes have no band role in common.")
    return roles


def paired_values(
    a: Raster, b: Raster, roles: tuple[str, ...]
) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.float32]]:
    """Values (bands, pixels) of both over the same ground: native pixels, all where there are few,
    else windows spread evenly.

    Raises
    ------
    GridMismatchError : not on the same grid. NoValidPixelsError : hardly any pixel in both.
    """
    try:
        a.grid.require_same_as(b.grid)
    except GridMismatchError as error:
        raise GridMismatchError(
            f"{error.sentence} Bring one onto the other's grid first (“Reproject or resample”)."
        ) from error
    pairs = []
    for window in plan_sample(a.grid).windows:
        one, two = a.read(window, roles), b.read(window, roles)
        both = one.valid & two.valid
        pairs.append((one.values[:, both], two.values[:, both]))
    here, there = (np.concatenate(parts, axis=1) for parts in zip(*pairs, strict=True))
    if here.shape[1] < LEAST_PIXELS:
        raise NoValidPixelsError("The two scenes have hardly a valid pixel in common.")
    return here, there
