"""What steps would change of a class map, before anything is kept."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.assess.compare_maps import FromTo
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Window
from kitesort.core.legend import N_CODES, NODATA_CODE, CodeArray, Legend
from kitesort.core.operation import Context, Parts
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.patches import pieces_by_code
from kitesort.core.raster.protocol import require_same_grid
from kitesort.core.raster.sample import sampled_blocks
from kitesort.core.recipe import Node, chain_of, open_recipe, sentence_of
from kitesort.store.records import Layer
from kitesort.study.accuracy import PlacedPoints, placed_points
from kitesort.study.rasters import READER, open_layer
from kitesort.study.steps import Step, with_steps

MOST_COUNTED = 2**20  # pixels that are looked at while somebody waits
Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Touched:
    """A part of a step (a rule, an edit) in words, and the pixels that it decided."""

    step: int
    words: str
    n: int


@dataclass(frozen=True)
class Right:
    """Of the reference points that lie where the map has data before and after: how many are
    told rightly."""

    n: int = 0
    before: int = 0
    after: int = 0

    def __add__(self, other: "Right") -> "Right":
        return Right(self.n + other.n, self.before + other.before, self.after + other.after)


@dataclass(frozen=True)
class Changed:
    """What became of which code, no data among them, and pieces by code, where pixels that touch at
    corners hang together. ``exact``: all of the map was looked at, else windows spread over it.
    ``legend`` of both. ``right``: at the reference points that were looked at. ``sentence``: the
    map's recipe in words."""

    sentence: str
    from_to: FromTo
    pieces_before: Counts
    pieces_after: Counts
    touched: tuple[Touched, ...]
    exact: bool
    legend: Legend
    right: Right

    @property
    def changed_ha(self) -> float | None:
        """On the ellipsoid; None where not all was looked at."""
        met = self.from_to
        return float(met.hectares[met.first != met.second].sum()) if self.exact else None

    @property
    def share(self) -> float:
        """Of the pixels that had a class or have one now, those that changed."""
        met = self.from_to
        empty = (met.first == NODATA_CODE) & (met.second == NODATA_CODE)
        changed = int(met.pixels[met.first != met.second].sum())
        return changed / max(int(met.pixels[~empty].sum()), 1)


def what_changes(layer: Layer, steps: Sequence[Step]) -> Changed:
    """What steps would change of a class map.

    Raises
    ------
    GridMismatchError : they move it. InputError, BadSettingsError
    """
    first = open_layer(layer.id, "work")
    recipe = with_steps(layer.study_id, layer, steps)
    second = open_recipe(recipe, READER)
    require_same_grid(first, second)
    parts = {i: _parts_of(node) for i, node in enumerate(chain_of(recipe)[1]) if node.spec.parts}
    blocks, exact = sampled_blocks(first, None, most=MOST_COUNTED)
    from_to = FromTo.nothing()
    pieces = np.zeros((2, N_CODES), np.int64)
    points, right = placed_points(layer, first.grid), Right()
    touched = {i: np.zeros(256, np.int64) for i in parts}
    for window, block, _ in blocks:
        one, other = codes_in(block), codes_in(second.read(window))
        areas = pixel_areas_ha(first.grid, window)
        from_to += FromTo.of(one.ravel(), other.ravel(), areas.ravel())
        pieces += [pieces_by_code(one), pieces_by_code(other)]
        right += _right(points, window, one, other)
        for i, part in parts.items():
            touched[i] += np.bincount(part.which(window).ravel(), minlength=256)
    known = {e.code: e for r in (second, first) for e in r.bands[0].legend}
    return Changed(
        sentence_of(recipe), from_to, pieces[0], pieces[1],
        tuple(
            Touched(i, words, int(touched[i][number]))
            for i, part in parts.items()
            for number, words in enumerate(part.words, start=1)
        ),
        exact, tuple(known[code] for code in sorted(known)), right,
    )  # fmt: skip


def _right(points: PlacedPoints, window: Window, before: CodeArray, after: CodeArray) -> Right:
    rows, cols = points.rows - window.row, points.cols - window.col
    inside = (rows >= 0) & (rows < window.height) & (cols >= 0) & (cols < window.width)
    at = rows[inside], cols[inside]
    told = [codes[at] for codes in (before, after)]
    known = (told[0] != NODATA_CODE) & (told[1] != NODATA_CODE)
    wanted = points.codes[inside][known]
    return Right(len(wanted), *(int((codes[known] == wanted).sum()) for codes in told))


def _parts_of(node: Node) -> Parts:
    """Of a step with parts."""
    assert node.spec.parts
    inputs = tuple(open_recipe(part, READER) for part in node.applied_to)
    return node.spec.parts(inputs, node.checked, Context(READER.open_layer))
