"""What every raster can do: hand out any window at any resolution, with its validity."""

from dataclasses import dataclass
from typing import Protocol, runtime_checkable

import numpy as np
import numpy.typing as npt

from kitesort.core.bands import Band, Kind
from kitesort.core.errors import GridMismatchError, MissingRoleError
from kitesort.core.grid import Grid, Window

Float32Array = npt.NDArray[np.float32]
BoolArray = npt.NDArray[np.bool_]
Shape = tuple[int, int]


@dataclass(frozen=True)
class Block:
    """Values (band, row, col) float32, not-a-number where a band is not usable, and validity
    (row, col): True where all of these bands are.

    The rule is per band, so that a band is the same whichever others are read with it, and a kept
    file the same as its recipe. Class codes are whole numbers; one that is none is not usable
    either, and stands as 0 in a kept file.
    """

    values: Float32Array
    valid: BoolArray


def block_of(values: Float32Array) -> Block:
    """A block of values that are not-a-number where they are not usable."""
    return Block(values, np.asarray(~np.isnan(values).any(axis=0)))


def masked_block(values: Float32Array, usable: BoolArray) -> Block:
    """A block whose pixels (row, col) that are not usable are so in no band."""
    return block_of(np.where(usable, values, np.float32(np.nan)))


def blank_block(n_bands: int, shape: Shape) -> Block:
    """Nothing usable."""
    return block_of(np.full((n_bands, *shape), np.nan, np.float32))


@runtime_checkable
class Raster(Protocol):
    """A grid and named bands that can be asked for any window at any resolution."""

    @property
    def grid(self) -> Grid: ...

    @property
    def bands(self) -> tuple[Band, ...]: ...

    @property
    def fingerprint(self) -> str:
        """Changes whenever the pixels could change; for caches and entity tags."""
        ...

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        """Values of the named bands (all when None) in the order asked for.

        ``window`` lies inside the grid; ``shape`` (rows, cols) is smaller than the window for
        coarse views, nearest neighbour from overviews. Pure: the same call, the same pixels.
        """
        ...


def kind_of(raster: Raster) -> Kind:
    """Class codes where no band holds anything else."""
    return "classes" if all(band.kind == "classes" for band in raster.bands) else "measured"


def roles_of(raster: Raster) -> tuple[str, ...]:
    return tuple(band.role for band in raster.bands)


def band_positions(bands: tuple[Band, ...], roles: tuple[str, ...] | None) -> list[int]:
    """Positions of the named roles, all when None.

    Raises
    ------
    MissingRoleError : a role that no band has.
    """
    have = [band.role for band in bands]
    if roles is None:
        return list(range(len(have)))
    missing = [role for role in roles if role not in have]
    if missing:
        raise MissingRoleError(
            f"The scene has no band with the role {', '.join(missing)}. It has {', '.join(have)}."
        )
    return [have.index(role) for role in roles]


def require_same_grid(first: Raster, second: Raster) -> None:
    """Raises GridMismatchError."""
    if first.grid != second.grid:
        raise GridMismatchError(
            "The two maps do not lie on the same grid. Bring one onto the other's grid first, in "
            "Correct; nothing is resampled unasked."
        )
