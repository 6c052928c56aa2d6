"""A grid as data, as it stands in recipes and rows."""

from affine import Affine
from pydantic import Field

from kitesort.core.grid import Grid
from kitesort.core.settings import Settings

MAX_SIDE = 300_000


class GridData(Settings):
    """CRS, the affine transform's six numbers, rows and columns."""

    crs: str
    transform: tuple[float, float, float, float, float, float]
    rows: int = Field(ge=1, le=MAX_SIDE)
    columns: int = Field(ge=1, le=MAX_SIDE)

    def to_grid(self) -> Grid:
        return Grid(self.crs, Affine(*self.transform), self.rows, self.columns)

    @classmethod
    def of(cls, grid: Grid) -> "GridData":
        return cls(
            crs=grid.crs,
            transform=tuple(grid.transform)[:6],
            rows=grid.height,
            columns=grid.width,
        )
