"""Whether two grids agree, and in words where they do not."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from kitesort.core.grid import ALIGNMENT_TOLERANCE_PX, Grid, parse_crs

Aspect = Literal["coordinate system", "pixel size", "alignment", "extent"]


@dataclass(frozen=True)
class GridDifference:
    """One aspect in which two grids differ, as a sentence."""

    aspect: Aspect
    sentence: str


def compare_grids(a: Grid, b: Grid, a_name: str, b_name: str) -> list[GridDifference]:
    """All differences that matter before anything is carried from one to the other; none: same.

    In different coordinate systems pixel size, alignment and extent cannot be held together.
    """
    crs_a, crs_b = parse_crs(a.crs), parse_crs(b.crs)
    if crs_a != crs_b:
        sentence = (
            f"{a_name} is in {describe_crs(a.crs)}, {b_name} in {describe_crs(b.crs)}. "
            "Reproject one of them."
        )
        return [GridDifference("coordinate system", sentence)]
    differences = []
    unit = crs_a.axis_info[0].unit_name if crs_a.axis_info else "units"
    if not np.allclose(a.pixel_size, b.pixel_size, rtol=1e-6):
        differences.append(
            GridDifference(
                "pixel size",
                f"{a_name} has pixels of {_size(a)} {unit}, {b_name} of {_size(b)} {unit}. "
                "Choose which grid to keep.",
            )
        )
    else:
        differences += _alignment(a, b, a_name, b_name)
    differences += _extent(a, b, a_name, b_name, unit)
    return differences


def describe_crs(crs: str) -> str:
    """Code and name of a CRS, or its name alone when it has no code."""
    name = str(parse_crs(crs).name)
    return f"{crs} ({name})" if crs.startswith("EPSG:") else name


def _size(grid: Grid) -> str:
    width, height = grid.pixel_size
    return f"{width:g}" if np.isclose(width, height) else f"{width:g} × {height:g}"


def _alignment(a: Grid, b: Grid, a_name: str, b_name: str) -> list[GridDifference]:
    row, col = a.world_to_pixel(*b.pixel_to_world(0, 0))
    off_row, off_col = (abs(v - round(v)) for v in (row, col))
    if max(off_row, off_col) <= ALIGNMENT_TOLERANCE_PX:
        return []
    return [
        GridDifference(
            "alignment",
            f"The pixels of {b_name} lie {off_col:.2f} pixels across and {off_row:.2f} pixels down "
            f"between those of {a_name}. Bring one onto the other's grid.",
        )
    ]


def _extent(a: Grid, b: Grid, a_name: str, b_name: str, unit: str) -> list[GridDifference]:
    if np.allclose(a.bounds, b.bounds, rtol=0, atol=a.pixel_size[0] * ALIGNMENT_TOLERANCE_PX):
        return []
    left, bottom = (max(x, y) for x, y in zip(a.bounds[:2], b.bounds[:2], strict=True))
    right, top = (min(x, y) for x, y in zip(a.bounds[2:], b.bounds[2:], strict=True))
    if left >= right or bottom >= top:
        sentence = f"{a_name} and {b_name} have no ground in common."
    else:
        sentence = (
            f"They cover different ground: {_sides(a)} {unit} in {a_name}, {_sides(b)} {unit} in "
            f"{b_name}, {right - left:,.10g} × {top - bottom:,.10g} {unit} in both."
        )
    return [GridDifference("extent", sentence)]


def _sides(grid: Grid) -> str:
    left, bottom, right, top = grid.bounds
    return f"{right - left:,.10g} × {top - bottom:,.10g}"
