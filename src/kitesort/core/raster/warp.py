"""A raster brought onto another grid, whatever its coordinate system; lazily, block by block."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from affine import Affine
from pyproj import Transformer
from pyproj.exceptions import ProjError

from kitesort.core.errors import GridMismatchError, OutsideSceneError
from kitesort.core.grid import Grid, Window, parse_crs
from kitesort.core.newest import remembered
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import (
    Block,
    Raster,
    Shape,
    band_positions,
    blank_block,
    block_of,
)
from kitesort.core.raster.resample import REACH_PX, Float64, Resampling, resample

# Exact projection is slow: it is done on a lattice of the target's own pixels, the same whatever
# the block, and interpolated between. At 16 pixels the error is far below a hundredth of a pixel.
LATTICE_PX = 16
MAX_SOURCE_PIXELS = 2**24


@remembered(64)
def transformer(from_crs: str, to_crs: str) -> Transformer:
    """Raises GridMismatchError when there is no way from one to the other, as between planets."""
    try:
        return Transformer.from_crs(parse_crs(from_crs), parse_crs(to_crs), always_xy=True)
    except ProjError as error:
        raise GridMismatchError(
            f"There is no way from {parse_crs(from_crs).name} to {parse_crs(to_crs).name}."
        ) from error


@dataclass(frozen=True)
class WarpedRaster(OnSource):
    """``source`` on ``target``; what lies outside the source is not valid."""

    source: Raster
    target: Grid
    resampling: Resampling = "nearest"

    @property
    def grid(self) -> Grid:
        return self.target

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, repr(self.target), self.resampling

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        out = shape or (window.height, window.width)
        row_at, col_at = map_places(self.target, self.source.grid, window, out)
        steps = (self._steps[0] * window.height / out[0], self._steps[1] * window.width / out[1])
        span = _span(row_at, col_at, self.source.grid, REACH_PX[self.resampling], steps)
        if span is None:
            n_bands = len(band_positions(self.bands, roles))
            return blank_block(n_bands, out)
        is_coarse = shape is not None and out != (window.height, window.width)
        if not is_coarse and span.n_pixels > MAX_SOURCE_PIXELS and window.height > 1:
            return self._read_halves(window, roles)
        return self._sample(span, roles, row_at, col_at, steps, is_coarse)

    @cached_property
    def _steps(self) -> tuple[float, float]:
        """Source rows and columns per target pixel, in the middle of the target: the same for
        every block."""
        n = min(64, self.target.height, self.target.width)
        row, col = (self.target.height - n) // 2, (self.target.width - n) // 2
        at = map_places(self.target, self.source.grid, Window(row, col, n, n), (n, n))
        return _step(at[0], 0), _step(at[1], 1)

    def _read_halves(self, window: Window, roles: tuple[str, ...] | None) -> Block:
        """Upper and lower half apart: memory stays bounded when the source is much finer."""
        upper = window.height // 2
        parts = [
            self.read(Window(window.row, window.col, upper, window.width), roles),
            self.read(
                Window(window.row + upper, window.col, window.height - upper, window.width), roles
            ),
        ]
        return block_of(np.concatenate([p.values for p in parts], axis=1))

    def _sample(
        self,
        span: Window,
        roles: tuple[str, ...] | None,
        row_at: Float64,
        col_at: Float64,
        steps: tuple[float, float],
        is_coarse: bool,
    ) -> Block:
        factor = max(1, int(min(steps))) if is_coarse else 1
        if factor > 1:  # a coarse view samples an overview of the source
            shape = (-(-span.height // factor), -(-span.width // factor))
            block = self.source.read(span, roles, shape)
            scale_r, scale_c = shape[0] / span.height, shape[1] / span.width
        else:
            block = self.source.read(span, roles)
            scale_r = scale_c = 1.0
        values = resample(
            block.values,
            (row_at - span.row) * scale_r,
            (col_at - span.col) * scale_c,
            self.resampling,
            (steps[0] * scale_r, steps[1] * scale_c),
        )
        return block_of(values)


def require_meeting(source: Grid, target: Grid, name: str = "") -> None:
    """Refuse to bring what lies elsewhere onto a grid: nothing but no data would come of it.

    ``name``: what the source is called, in the sentence.

    Raises
    ------
    OutsideSceneError
    """
    if not (_reaches(source, target) or _reaches(target, source)):  # either may be the smaller
        what = f"{name} and this scene" if name else "The two scenes"
        raise OutsideSceneError(f"{what} have no ground in common.")


def _reaches(one: Grid, other: Grid) -> bool:
    """Whether any of some pixels of ``other`` lies on ``one``."""
    shape = (min(64, other.height), min(64, other.width))
    row_at, col_at = map_places(other, one, other.whole, shape)
    inside = (row_at > -1) & (row_at < one.height + 1) & (col_at > -1) & (col_at < one.width + 1)
    return bool(inside.any())


def map_places(target: Grid, source: Grid, window: Window, shape: Shape) -> tuple[Float64, Float64]:
    """Rows and columns in ``source`` of the pixel centres of a window of ``target``."""
    rows = window.row + (np.arange(shape[0]) + np.float64(0.5)) * (window.height / shape[0])
    cols = window.col + (np.arange(shape[1]) + np.float64(0.5)) * (window.width / shape[1])
    if parse_crs(target.crs) == parse_crs(source.crs):
        return _through_affine(target, source, rows, cols)
    if window.height / shape[0] >= LATTICE_PX / 2:
        return _project(target, source, rows, cols)
    first_r, first_c = rows[0] // LATTICE_PX, cols[0] // LATTICE_PX
    lattice_r = LATTICE_PX * np.arange(first_r, rows[-1] // LATTICE_PX + 2)
    lattice_c = LATTICE_PX * np.arange(first_c, cols[-1] // LATTICE_PX + 2)
    at = _project(target, source, lattice_r, lattice_c)
    row_at, col_at = (
        _between(field, rows / LATTICE_PX - first_r, cols / LATTICE_PX - first_c) for field in at
    )
    return row_at, col_at


def _through_affine(
    target: Grid, source: Grid, rows: Float64, cols: Float64
) -> tuple[Float64, Float64]:
    to_source = ~source.transform @ target.transform
    row_at = to_source.e * rows + to_source.f
    col_at = to_source.a * cols + to_source.c
    shape = (rows.size, cols.size)
    return (
        np.ascontiguousarray(np.broadcast_to(row_at[:, None], shape)),
        np.ascontiguousarray(np.broadcast_to(col_at[None, :], shape)),
    )


def _project(target: Grid, source: Grid, rows: Float64, cols: Float64) -> tuple[Float64, Float64]:
    t = target.transform
    x, y = np.meshgrid(t.a * cols + t.c, t.e * rows + t.f)
    x, y = transformer(target.crs, source.crs).transform(x, y)
    back = ~source.transform
    # What cannot be projected comes back infinite; far outside is what it means here.
    row_at = np.nan_to_num(back.e * y + back.f, nan=-1e9, posinf=-1e9, neginf=-1e9)
    col_at = np.nan_to_num(back.a * x + back.c, nan=-1e9, posinf=-1e9, neginf=-1e9)
    return row_at, col_at


def _between(field: Float64, rows: Float64, cols: Float64) -> Float64:
    """Bilinear values of a lattice (m, n) at fractional lattice rows and columns."""
    r, c = rows.astype(int), cols.astype(int)
    fr, fc = (rows - r)[:, None], (cols - c)[None, :]
    upper = field[r][:, c] * (1 - fc) + field[r][:, c + 1] * fc
    lower = field[r + 1][:, c] * (1 - fc) + field[r + 1][:, c + 1] * fc
    return np.asarray(upper * (1 - fr) + lower * fr)


def _step(at: npt.NDArray[np.float64], axis: int) -> float:
    """Source pixels between two neighbouring places, on average."""
    n = at.shape[axis]
    if n < 2:
        return 1.0
    ends = at[-1, 0] - at[0, 0] if axis == 0 else at[0, -1] - at[0, 0]
    return max(abs(float(ends)) / (n - 1), 1e-9)


def _span(
    row_at: Float64, col_at: Float64, source: Grid, reach: int, steps: tuple[float, float]
) -> Window | None:
    """The source pixels that are needed, None when there are none."""
    margin_r, margin_c = (reach + int(step / 2) + 1 for step in steps)
    top = max(0, int(np.floor(row_at.min())) - margin_r)
    bottom = min(source.height, int(np.ceil(row_at.max())) + margin_r)
    left = max(0, int(np.floor(col_at.min())) - margin_c)
    right = min(source.width, int(np.ceil(col_at.max())) + margin_c)
    if top >= bottom or left >= right:
        return None
    return Window(top, left, bottom - top, right - left)


def suggest_grid(source: Grid, crs: str) -> Grid:
    """A grid in another CRS that holds the whole source, with pixels of about the same size.

    Raises
    ------
    GridMismatchError : the place cannot be shown in that CRS.
    """
    if source.crs == crs or parse_crs(source.crs) == parse_crs(crs):
        return source
    try:
        bounds = transformer(source.crs, crs).transform_bounds(*source.bounds, densify_pts=21)
    except ProjError as error:
        raise GridMismatchError(f"The scene cannot be brought into {crs}.") from error
    if not np.isfinite(bounds).all():
        raise GridMismatchError(f"The scene lies outside of what {crs} can show.")
    left, bottom, right, top = bounds
    diagonal = float(np.hypot(source.height, source.width))
    pixel = float(np.hypot(right - left, top - bottom)) / diagonal
    height, width = (max(1, int(np.ceil(d / pixel))) for d in (top - bottom, right - left))
    return Grid(crs, Affine(pixel, 0, left, 0, -pixel, top), height, width)


def squared_in(raster: Raster, crs: str) -> Raster:
    """The raster in a CRS and in square pixels, nearest neighbour, where it is not."""
    square = suggest_grid(raster.grid, crs).squared()
    return raster if square == raster.grid else WarpedRaster(raster, square)
