"""Two class maps of the same ground: from which class to which, and on the same points."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import comb

import numpy as np
import numpy.typing as npt
from scipy.optimize import linear_sum_assignment
from scipy.special import chdtrc

from kitesort.core.engine import UNWATCHED, Watch, reduce_blocks
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster, require_same_grid

FEW = 25  # points on which the maps differ, below which the binomial is taken exactly
N_CODES = 256


@dataclass(frozen=True)
class FromTo:
    """Pixels and hectares, (256, 256) each, by the first map's code (rows) and the second's."""

    pixels: npt.NDArray[np.int64]
    hectares: npt.NDArray[np.float64]

    def __add__(self, other: "FromTo") -> "FromTo":
        return FromTo(self.pixels + other.pixels, self.hectares + other.hectares)

    def same(self, partner: Mapping[int, int]) -> float | None:
        """Share of pixels that have the same class in both maps, ``partner`` the second's code of
        each of the first's; None without any pixel."""
        total = int(self.pixels.sum())
        alike = sum(int(self.pixels[a, b]) for a, b in partner.items())
        return alike / total if total else None


def match_by_overlap(
    pixels: npt.NDArray[np.int64], first: Sequence[int], second: Sequence[int]
) -> dict[int, int]:
    """For groups that have no names in common: by each code of the first map the second's code that
    is taken for the same, so that as many pixels as can be are alike; each code once, and none
    where no pixel is shared.

    Source: H. W. Kuhn 1955, Naval Research Logistics Quarterly 2:83-97 (assignment).
    """
    shared = pixels[np.ix_(list(first), list(second))]
    rows, columns = linear_sum_assignment(-shared)
    return {first[i]: second[j] for i, j in zip(rows, columns, strict=True) if shared[i, j] > 0}


def adjusted_rand(pixels: npt.NDArray[np.int64]) -> float | None:
    """How alike two groupings of the same pixels are, whatever the groups are called: 1 where they
    are the same, about 0 by chance. ``pixels``: (groups, groups) that are in both; None without
    any.

    Source: L. Hubert & P. Arabie 1985, Journal of Classification 2:193-218.
    """

    def pairs(counts: npt.NDArray[np.int64]) -> float:
        n = counts.astype(np.float64)
        return float((n * (n - 1) / 2).sum())

    total = pairs(np.array([pixels.sum()]))
    if total == 0:
        return None
    first, second = pairs(pixels.sum(axis=1)), pairs(pixels.sum(axis=0))
    by_chance, most = first * second / total, (first + second) / 2
    return 1.0 if most == by_chance else (pairs(pixels) - by_chance) / (most - by_chance)


def compare_maps(first: Raster, second: Raster, watch: Watch = UNWATCHED) -> FromTo:
    """Every pixel that has a code in both maps, areas on the ellipsoid.

    Raises
    ------
    GridMismatchError, CancelledError
    """
    require_same_grid(first, second)

    def count(window: Window) -> FromTo:
        one, other = first.read(window), second.read(window)
        both = one.valid & other.valid
        pairs = one.values[0][both].astype(np.int64) * N_CODES + other.values[0][both].astype(
            np.int64
        )
        areas = pixel_areas_ha(first.grid, window)[both]
        shape, length = (N_CODES, N_CODES), N_CODES * N_CODES
        return FromTo(
            np.bincount(pairs, minlength=length).reshape(shape),
            np.bincount(pairs, areas, minlength=length).reshape(shape).astype(np.float64),
        )

    found = reduce_blocks(first.grid, count, watch=watch)
    shape = N_CODES, N_CODES
    nothing = FromTo(np.zeros(shape, np.int64), np.zeros(shape))
    return found if found is not None else nothing


@dataclass(frozen=True)
class SamePoints:
    """Reference points that only the first map has right, only the second, both, neither; ``p``:
    how likely such a difference is where both are equally good, None where they never differ."""

    only_first: int
    only_second: int
    both: int
    neither: int
    p: float | None


def compare_on_points(
    first_right: npt.NDArray[np.bool_], second_right: npt.NDArray[np.bool_]
) -> SamePoints:
    """Source: Q. McNemar 1947, Psychometrika 12:153-157: (b - c)² / (b + c) against chi-square with
    one degree of freedom; exactly by the binomial (two-sided) where fewer than 25 points differ."""
    b = int((first_right & ~second_right).sum())
    c = int((~first_right & second_right).sum())
    both = int((first_right & second_right).sum())
    return SamePoints(b, c, both, len(first_right) - both - b - c, _likely(b, c))


def _likely(b: int, c: int) -> float | None:
    n = b + c
    if n == 0:
        return None
    if n >= FEW:
        return float(chdtrc(1, (b - c) ** 2 / n))
    tail = sum(comb(n, i) for i in range(min(b, c) + 1)) / 2**n
    return min(1.0, 2 * tail)
