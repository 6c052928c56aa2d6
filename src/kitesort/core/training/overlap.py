"""Ground that sites of two classes claim at once: whichever it is, one of the classes learns it
wrongly."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import SiteError
from kitesort.core.grid import Grid
from kitesort.core.newest import remembered
from kitesort.core.site_pixels import site_mask

MOST_PAIRS = 500


@dataclass(frozen=True)
class Contested:
    """Pixels that lie in sites of both classes."""

    code: int
    other_code: int
    n_pixels: int


def contested_pixels(
    sites: Sequence[tuple[int, BaseGeometry]], grid: Grid
) -> tuple[Contested, ...]:
    """Pairs of classes (lower code first) whose sites share pixels, most pixels first.

    ``sites``: class code and outline in the grid's CRS. Where more than 500 pairs of sites overlap,
    the first of them are counted.
    """
    shapes = np.array([shape for _, shape in sites], object)
    one, other = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    pairs = [
        (i, j) for i, j in zip(one, other, strict=True) if i < j and sites[i][0] != sites[j][0]
    ]
    counts: Counter[tuple[int, int]] = Counter()
    for i, j in pairs[:MOST_PAIRS]:
        low, high = sorted((sites[i][0], sites[j][0]))
        counts[low, high] += _n_shared(shapes[i], shapes[j], grid)
    return tuple(Contested(*codes, n) for codes, n in counts.most_common() if n > 0)


@remembered(8 * MOST_PAIRS)
def _n_shared(a: BaseGeometry, b: BaseGeometry, grid: Grid) -> int:
    common = a.intersection(b)
    if common.area == 0:
        return 0
    try:
        return int(site_mask(common, grid)[1].sum())
    except SiteError:  # between pixel centres, or outside
        return 0
