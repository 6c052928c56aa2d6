"""The grid of a raster as one immutable value: CRS, affine transform and shape."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from affine import Affine
from pyproj import CRS

from kitesort.core.errors import GridMismatchError, InputError
from kitesort.core.newest import remembered

SQUARE_METRES_PER_HECTARE = 10_000.0
ALIGNMENT_TOLERANCE_PX = 0.01


@dataclass(frozen=True)
class Window:
    """A rectangle of whole pixels: first row and column, height and width in pixels."""

    row: int
    col: int
    height: int
    width: int

    @property
    def slices(self) -> tuple[slice, slice]:
        return slice(self.row, self.row + self.height), slice(self.col, self.col + self.width)

    @property
    def n_pixels(self) -> int:
        return self.height * self.width


@remembered(64)
def parse_crs(text: str) -> CRS:
    """The CRS of an authority code or WKT; cached, since parsing is slow."""
    return CRS.from_user_input(text)


def unit_m(crs: str) -> float:
    """Metres of a projected CRS's unit; 1 for degrees, which are no length."""
    system = parse_crs(crs)
    return 1.0 if system.is_geographic else float(system.axis_info[0].unit_conversion_factor)


def unit_name(crs: str) -> str:
    """What lengths in a CRS are counted in, as it is written behind a number."""
    name = str(parse_crs(crs).axis_info[0].unit_name)
    return {"metre": "m", "degree": "°"}.get(name, name)


@dataclass(frozen=True)
class Grid:
    """CRS (authority code or WKT), north-up pixel-to-world transform, and shape in pixels.

    The pixel at (row, col) covers [col, col + 1) × [row, row + 1); its centre is at + 0.5.
    """

    crs: str
    transform: Affine
    height: int
    width: int

    def __post_init__(self) -> None:
        if self.transform.b or self.transform.d:
            raise InputError(
                "The raster is rotated against its coordinate system. Warp it to a north-up grid."
            )
        if self.height < 1 or self.width < 1:
            raise InputError("The raster has no pixels.")

    @property
    def pixel_size(self) -> tuple[float, float]:
        """Width and height of a pixel in CRS units, both positive."""
        return abs(self.transform.a), abs(self.transform.e)

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, bottom, right, top in CRS units."""
        left, top = self.pixel_to_world(0, 0)
        right, bottom = self.pixel_to_world(self.height, self.width)
        return left, bottom, right, top

    @property
    def is_geographic(self) -> bool:
        return bool(parse_crs(self.crs).is_geographic)

    def pixel_to_world(self, row: float, col: float) -> tuple[float, float]:
        x, y = self.transform @ (col, row)
        return float(x), float(y)

    def world_to_pixel(self, x: float, y: float) -> tuple[float, float]:
        """Fractional (row, col); the floor of each is the pixel that holds the point."""
        col, row = ~self.transform @ (x, y)
        return float(row), float(col)

    def pixel_at(self, x: float, y: float) -> tuple[int, int] | None:
        """(row, col) of the pixel that holds a point; None outside the grid, and for what is no
        place in its CRS."""
        place = self.world_to_pixel(x, y)
        if not all(map(math.isfinite, place)):
            return None
        row, col = map(math.floor, place)
        inside = 0 <= row < self.height and 0 <= col < self.width
        return (row, col) if inside else None

    def pixels_at(
        self, places: npt.NDArray[np.float64]
    ) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], npt.NDArray[np.bool_]]:
        """As ``pixel_at`` for places (n, 2): rows and cols (n,), and which (n,) lie on the grid;
        0 where they do not."""
        with np.errstate(invalid="ignore"):  # what is no place in the CRS
            cols, rows = ~self.transform @ (places[:, 0], places[:, 1])
            inside = (rows >= 0) & (rows < self.height) & (cols >= 0) & (cols < self.width)
        at = np.where(inside, np.floor([rows, cols]), 0).astype(np.int64)
        return at[0], at[1], np.asarray(inside)

    @property
    def whole(self) -> Window:
        return Window(0, 0, self.height, self.width)

    def with_halo(self, window: Window, halo: int) -> Window:
        """A window and so many pixels around, as far as the grid goes."""
        top, left = max(0, window.row - halo), max(0, window.col - halo)
        bottom = min(self.height, window.row + window.height + halo)
        right = min(self.width, window.col + window.width + halo)
        return Window(top, left, bottom - top, right - left)

    def window_of_bounds(self, bounds: tuple[float, float, float, float]) -> Window | None:
        """Smallest window of whole pixels that holds the bounds, clipped; None when outside."""
        left, bottom, right, top = bounds
        row0, col0 = self.world_to_pixel(left, top)
        row1, col1 = self.world_to_pixel(right, bottom)
        first_row, first_col = max(math.floor(row0), 0), max(math.floor(col0), 0)
        last_row, last_col = min(math.ceil(row1), self.height), min(math.ceil(col1), self.width)
        if first_row >= last_row or first_col >= last_col:
            return None
        return Window(first_row, first_col, last_row - first_row, last_col - first_col)

    def sub_grid(self, window: Window) -> "Grid":
        transform = self.transform @ Affine.translation(window.col, window.row)
        return Grid(self.crs, transform, window.height, window.width)

    def blocks(self, size: int) -> Iterator[Window]:
        """Windows of at most size × size pixels that tile the grid, row by row."""
        for row in range(0, self.height, size):
            for col in range(0, self.width, size):
                yield Window(row, col, min(size, self.height - row), min(size, self.width - col))

    @property
    def has_square_pixels(self) -> bool:
        width, height = self.pixel_size
        return math.isclose(width, height, rel_tol=1e-6)

    def squared(self) -> "Grid":
        """The same ground in square pixels of the shorter side; itself where they are square."""
        if self.has_square_pixels:
            return self
        (width, height), side = self.pixel_size, min(self.pixel_size)
        rows, columns = (
            round(n * d / side) for n, d in ((self.height, height), (self.width, width))
        )
        transform = Affine(side, 0, self.transform.c, 0, -side, self.transform.f)
        return Grid(self.crs, transform, max(1, rows), max(1, columns))

    def require_same_as(self, other: "Grid") -> None:
        """Raise GridMismatchError naming the first difference that matters."""
        if parse_crs(self.crs) != parse_crs(other.crs):
            raise GridMismatchError(
                f"The coordinate systems differ: {self.crs} and {other.crs}. Reproject one first."
            )
        if not np.allclose(self.pixel_size, other.pixel_size, rtol=1e-6):
            raise GridMismatchError(
                f"The pixel sizes differ: {self.pixel_size[0]:g} and {other.pixel_size[0]:g}. "
                "Choose which grid to keep."
            )
        row, col = self.world_to_pixel(*other.pixel_to_world(0, 0))
        if max(abs(row), abs(col)) > ALIGNMENT_TOLERANCE_PX:
            raise GridMismatchError(
                "The grids start at different places. Bring one onto the other."
            )
        if (self.height, self.width) != (other.height, other.width):
            raise GridMismatchError(
                f"The grids differ in size: {self.height} × {self.width} and "
                f"{other.height} × {other.width} rows and columns."
            )
