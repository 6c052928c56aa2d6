"""Two class maps of the same ground: from which class to which, and on the same points."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import comb
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.optimize import linear_sum_assignment
from scipy.special import chdtrc

from kitesort.core.engine import UNWATCHED, Watch, reduce_blocks
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Window
from kitesort.core.legend import N_CODES, CodeArray
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.protocol import Raster, require_same_grid

FEW = 25  # points on which the maps differ, below which the binomial is taken exactly


@dataclass(frozen=True)
class FromTo:
    """Codes of the first map and of the second (k,) that meet anywhere, in order, and the pixels
    and hectares (k,) in which they do."""

    first: CodeArray
    second: CodeArray
    pixels: npt.NDArray[np.int64]
    hectares: npt.NDArray[np.float64]

    @classmethod
    def of(cls, first: CodeArray, second: CodeArray, areas: npt.NDArray[np.float64]) -> "FromTo":
        """Of two maps' codes (n,) at the same places, and the hectares (n,) of each place."""
        (rows, row), (columns, column) = _places(first), _places(second)
        flat, n = row[first] * len(columns) + column[second], len(rows) * len(columns)
        pixels, hectares = np.bincount(flat, minlength=n), np.bincount(flat, areas, minlength=n)
        there = np.flatnonzero(pixels)
        row_of, column_of = np.divmod(there, max(len(columns), 1))
        return cls(
            rows[row_of], columns[column_of], pixels[there], hectares[there].astype(np.float64)
        )

    @classmethod
    def nothing(cls) -> "FromTo":
        none = np.zeros(0, np.uint16)
        return cls(none, none, np.zeros(0, np.int64), np.zeros(0))

    def __add__(self, other: "FromTo") -> "FromTo":
        both = [np.concatenate(pair) for pair in zip(self._parts, other._parts, strict=True)]
        first, second, pixels, hectares = both
        keys, at = np.unique(first.astype(np.int64) * N_CODES + second, return_inverse=True)
        sums = np.zeros(len(keys), np.int64), np.zeros(len(keys))
        for total, part in zip(sums, (pixels, hectares), strict=True):
            np.add.at(total, at, part)
        one, two = (part.astype(np.uint16) for part in np.divmod(keys, N_CODES))
        return FromTo(one, two, *sums)

    @property
    def _parts(self) -> tuple[npt.NDArray[Any], ...]:
        return self.first, self.second, self.pixels, self.hectares

    def pixels_by_code(self, of_second: bool = False) -> dict[int, int]:
        """Of the first map, or of the second."""
        codes = self.second if of_second else self.first
        found = np.bincount(codes, self.pixels)
        return {int(code): int(found[code]) for code in np.unique(codes)}

    def table(
        self, rows: Sequence[int], columns: Sequence[int]
    ) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.float64]]:
        """Pixels and hectares (rows, columns) of some of the first map's codes and the second's."""
        row, column = ({code: i for i, code in enumerate(codes)} for codes in (rows, columns))
        pixels = np.zeros((len(rows), len(columns)), np.int64)
        hectares = np.zeros(pixels.shape)
        for a, b, n, area in zip(*(part.tolist() for part in self._parts), strict=True):
            if a in row and b in column:
                pixels[row[a], column[b]], hectares[row[a], column[b]] = n, area
        return pixels, hectares

    def same(self, partner: Mapping[int, int]) -> float | None:
        """Share of pixels that have the same class in both maps, ``partner`` the second's code of
        each of the first's; None without any pixel."""
        total = int(self.pixels.sum())
        met = zip(self.first.tolist(), self.second.tolist(), self.pixels.tolist(), strict=True)
        return sum(n for a, b, n in met if partner.get(a) == b) / total if total else None


def _places(codes: CodeArray) -> tuple[CodeArray, npt.NDArray[np.int64]]:
    """The codes that there are, in order, and by code its place among them."""
    there = np.flatnonzero(np.bincount(codes, minlength=N_CODES))
    place = np.zeros(N_CODES, np.int64)
    place[there] = np.arange(len(there))
    return there.astype(np.uint16), place


def match_by_overlap(met: FromTo) -> dict[int, int]:
    """For groups that have no names in common: by each code of the first map the second's code that
    is taken for the same, so that as many pixels as can be are alike; each code once, and none
    where no pixel is shared.

    Source: H. W. Kuhn 1955, Naval Research Logistics Quarterly 2:83-97 (assignment).
    """
    first, second = list(met.pixels_by_code()), list(met.pixels_by_code(of_second=True))
    shared, _ = met.table(first, second)
    rows, columns = linear_sum_assignment(-shared)
    return {first[i]: second[j] for i, j in zip(rows, columns, strict=True) if shared[i, j] > 0}


def adjusted_rand(met: FromTo) -> float | None:
    """How alike two groupings of the same pixels are, whatever the groups are called: 1 where they
    are the same, about 0 by chance; None without any pixel.

    Source: L. Hubert & P. Arabie 1985, Journal of Classification 2:193-218.
    """

    def pairs(counts: npt.NDArray[np.int64]) -> float:
        n = counts.astype(np.float64)
        return float((n * (n - 1) / 2).sum())

    total = pairs(np.array([met.pixels.sum()]))
    if total == 0:
        return None
    first, second = (
        pairs(np.array(list(met.pixels_by_code(of_second).values()))) for of_second in (False, True)
    )
    by_chance, most = first * second / total, (first + second) / 2
    return 1.0 if most == by_chance else (pairs(met.pixels) - by_chance) / (most - by_chance)


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
        codes = codes_in(one)[both], codes_in(other)[both]
        return FromTo.of(*codes, pixel_areas_ha(first.grid, window)[both])

    found = reduce_blocks(first.grid, count, watch=watch)
    return found if found is not None else FromTo.nothing()


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
