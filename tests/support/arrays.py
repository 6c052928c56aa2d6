"""Rasters made of arrays, for tests that need no file."""

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt
from affine import Affine

from kitesort.core.bands import Band, Quantity
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Shape, band_positions, masked_block


def metric_grid(height: int, width: int, pixel: float = 10.0) -> Grid:
    return Grid("EPSG:32625", Affine(pixel, 0, 400_000, 0, -pixel, 5_000_000), height, width)


@dataclass(frozen=True)
class ArrayRaster:
    """Values (bands, rows, columns), which may be missing (not-a-number) in one band alone, and
    which pixels (rows, columns) are usable at all, on a metric grid; ``coarse`` bands were
    recorded in pixels so many times as large."""

    values: npt.NDArray[np.float32]
    valid: npt.NDArray[np.bool_]
    roles: tuple[str, ...]
    coarse: tuple[tuple[str, int], ...] = field(default=(), kw_only=True)
    quantity: Quantity = field(default="reflectance", kw_only=True)

    @property
    def grid(self) -> Grid:
        return metric_grid(*self.valid.shape)

    @property
    def bands(self) -> tuple[Band, ...]:
        natives = {role: coarser_grid(self.grid, factor) for role, factor in self.coarse}
        return tuple(
            Band(role, native=natives.get(role), quantity=self.quantity) for role in self.roles
        )

    @property
    def fingerprint(self) -> str:
        return "array"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        positions = band_positions(self.bands, roles)
        rows, columns = window.slices
        values, valid = self.values[positions][:, rows, columns], self.valid[rows, columns]
        if shape is not None:
            step_rows, step_columns = window.height // shape[0], window.width // shape[1]
            values, valid = (
                values[:, ::step_rows, ::step_columns],
                valid[::step_rows, ::step_columns],
            )
        return masked_block(values, valid)


def coarser_grid(grid: Grid, factor: int) -> Grid:
    transform = grid.transform @ Affine.scale(factor)
    return Grid(grid.crs, transform, -(-grid.height // factor), -(-grid.width // factor))


def random_raster(
    height: int, width: int, n_bands: int = 3, seed: int = 0, invalid_share: float = 0.1
) -> ArrayRaster:
    rng = np.random.default_rng(seed)
    values = rng.normal(0.2, 0.1, (n_bands, height, width)).astype(np.float32)
    roles = ("blue", "green", "red", "nir", "swir16", "swir22")[:n_bands]
    return ArrayRaster(values, rng.random((height, width)) >= invalid_share, roles)
