"""What is to be said of each training site: how it spreads, how odd it is in its class, what it
looks like instead, and what would mend it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.ndimage import binary_erosion

from kitesort.core.raster.protocol import BoolArray
from kitesort.core.training.peaks import Peaks, second_peak
from kitesort.core.training.samples import TrainingSamples
from kitesort.core.training.usual import UsualClass, likeliest, usual_classes, usual_limit

FindPeaks = Callable[[npt.NDArray[np.float32]], Peaks | None]
LEAST_RIM_EXCESS = 0.3  # of its pixels more than inside
LEAST_INSIDE = 4  # pixels, so that a rim can be told from an inside
SMALLEST_WITH_INSIDE = 16  # pixels around four


@dataclass(frozen=True)
class SiteFigures:
    """Of one site, by its number in the samples. ``mean``: per band, in its unit.

    ``spread``: its standard deviation over that of its class, root mean square over the bands;
    None for a single pixel or where the class has none. ``oddness``: the median distance of its
    pixels from what is usual in its class, over the distance within which 99 % are expected: above
    1 most of its pixels are unusual. None where the class has too few pixels. ``like``: of the
    other classes the one that most of its pixels look like, ``like_share`` the share of those that
    look like any other class. ``rim``: its border pixels are unusual though its inside is not.
    ``two_kinds``: its values have two peaks. ``odd`` marks its unusual pixels (n,) in the order of
    the samples; ``second`` those of the smaller of two heaps, else those that look like another
    class, where that is some of them.
    """

    number: int
    code: int
    n_pixels: int
    mean: tuple[float, ...]
    spread: float | None
    oddness: float | None
    like: int | None
    like_share: float
    rim: bool
    two_kinds: bool
    odd: BoolArray
    second: BoolArray | None

    @property
    def doubt(self) -> float:
        """To rank sites by: how odd it is, times the share of pixels that look like another class;
        what is only odd counts a tenth."""
        return (self.oddness or 0.0) * max(self.like_share, 0.1)


def site_figures(
    samples: TrainingSamples,
    usual: Mapping[int, UsualClass] | None = None,
    peaks: FindPeaks = second_peak,
) -> list[SiteFigures]:
    """Of every site that has pixels, in the order of the samples. ``usual``: of each class, where
    it is known already; ``peaks`` may remember what it found before."""
    known = dict(usual_classes(samples) if usual is None else usual)
    looks = likeliest(known, samples.values) if known else samples.codes
    spreads = {c: s.standard_deviation for c, s in samples.statistics().items()}
    starts = np.flatnonzero(np.diff(samples.sites, prepend=-1))  # each lies in one piece
    ends = [*starts[1:], len(samples.sites)]
    return [
        _figures(
            samples,
            slice(int(start), int(end)),
            known,
            looks,
            spreads[int(samples.codes[start])],
            peaks,
        )
        for start, end in zip(starts, ends, strict=True)
    ]


def _figures(
    samples: TrainingSamples,
    at: slice,
    usual: dict[int, UsualClass],
    looks: npt.NDArray[np.uint8],
    class_spread: npt.NDArray[np.float64],
    find_peaks: FindPeaks,
) -> SiteFigures:
    values, code = samples.values[at], int(samples.codes[at.start])
    own, limit = usual.get(code), usual_limit(values.shape[1])
    squared = own.squared_distances(values) if own else np.zeros(len(values))
    odd = squared > limit
    foreign = (looks[at] != code) if own else np.zeros(len(values), np.bool_)
    some_foreign = bool(foreign.any())
    peaks = find_peaks(values)
    partly = foreign if some_foreign and not foreign.all() else None
    return SiteFigures(
        number=int(samples.sites[at.start]),
        code=code,
        n_pixels=len(values),
        mean=tuple(values.mean(axis=0, dtype=np.float64).tolist()),
        spread=_spread(values, class_spread),
        oddness=float(np.sqrt(np.median(squared) / limit)) if own else None,
        like=int(np.bincount(looks[at][foreign]).argmax()) if some_foreign else None,
        like_share=float(foreign.mean()),
        rim=_has_odd_rim(samples.rows[at], samples.cols[at], odd),
        two_kinds=peaks is not None,
        odd=odd,
        second=peaks.second if peaks else partly,
    )


def _spread(values: npt.NDArray[np.float32], class_spread: npt.NDArray[np.float64]) -> float | None:
    if len(values) < 2 or not (class_spread > 0).all():
        return None
    own = values.std(axis=0, ddof=1, dtype=np.float64)
    return float(np.sqrt(((own / class_spread) ** 2).mean()))


def rim_of(rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32]) -> BoolArray:
    """Which of a site's pixels touch one that is not of it, by a side or a corner."""
    mask = np.zeros((int(np.ptp(rows)) + 3, int(np.ptp(cols)) + 3), np.bool_)
    places = rows - rows.min() + 1, cols - cols.min() + 1
    mask[places] = True
    return np.asarray(~binary_erosion(mask, np.ones((3, 3)))[places])


def _has_odd_rim(rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32], odd: BoolArray) -> bool:
    if len(rows) < SMALLEST_WITH_INSIDE or not odd.any():
        return False
    rim = rim_of(rows, cols)
    if (~rim).sum() < LEAST_INSIDE:
        return False
    return bool(odd[rim].mean() - odd[~rim].mean() >= LEAST_RIM_EXCESS)
