"""What is to be said of each training site: how it spreads, how odd it is in its class, what it
looks like instead, and what would mend it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.legend import N_CODES
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

    @cached_property
    def n_odd(self) -> int:
        return int(np.count_nonzero(self.odd))

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
    starts = np.flatnonzero(np.diff(samples.sites, prepend=-1))  # each lies in one piece
    ends = np.append(starts[1:], len(samples.sites))
    figures = _Figures(samples, known, starts, ends)
    return [
        figures.of_site(i, peaks(samples.values[start:end]))
        for i, (start, end) in enumerate(zip(starts, ends, strict=True))
    ]


class _Figures:
    """Of all sites at once: ``starts`` and ``ends`` of each among the pixels."""

    def __init__(
        self,
        samples: TrainingSamples,
        known: dict[int, UsualClass],
        starts: npt.NDArray[np.intp],
        ends: npt.NDArray[np.intp],
    ) -> None:
        self.samples, self.starts, self.ends = samples, starts, ends
        self.n = ends - starts
        self.site = np.repeat(np.arange(len(starts)), self.n)
        self.known = np.isin(samples.codes, list(known))
        limit = usual_limit(samples.values.shape[1])
        squared = _squared_distances(samples, known)
        self.odd = squared > limit
        self.oddness = np.sqrt(_medians(squared, self.site, starts, self.n) / limit)
        self.looks = likeliest(known, samples.values) if known else samples.codes
        self.foreign = (self.looks != samples.codes) & self.known
        self.foreign_share = self._sum(self.foreign) / self.n
        self.like = self._most_foreign()
        self.mean = self._sum(samples.values) / self.n[:, None]
        self.spread = self._spreads()
        self.rim = self._odd_rims()

    def _sum(self, of_pixels: npt.NDArray[Any]) -> npt.NDArray[np.float64]:
        return np.asarray(np.add.reduceat(of_pixels.astype(np.float64), self.starts, axis=0))

    def _most_foreign(self) -> dict[int, int]:
        """By site, of those that have pixels that look like another class: which most do, the lower
        code of equals."""
        pairs = self.site[self.foreign] * N_CODES + self.looks[self.foreign]
        found, counts = np.unique(pairs, return_counts=True)
        best = np.lexsort((found % N_CODES, -counts, found // N_CODES))
        site, first = np.unique(found[best] // N_CODES, return_index=True)
        codes = found[best][first] % N_CODES
        return dict(zip(site.tolist(), codes.tolist(), strict=True))

    def _spreads(self) -> npt.NDArray[np.float64]:
        """Not a number where there is none."""
        of_class = {c: s.standard_deviation for c, s in self.samples.statistics.items()}
        class_spread = np.stack([of_class[int(c)] for c in self.samples.codes[self.starts]])
        squares = self._sum((self.samples.values - self.mean[self.site]) ** 2)
        with np.errstate(divide="ignore", invalid="ignore"):
            shares = squares / (self.n - 1)[:, None] / class_spread**2
        shares[(class_spread <= 0).any(axis=1) | (self.n < 2)] = np.nan
        return np.asarray(np.sqrt(shares.mean(axis=1)))

    def _odd_rims(self) -> BoolArray:
        """Whose border pixels are unusual though their inside is not."""
        rim = rim_of(self.samples.rows, self.samples.cols, self.site)
        n_rim = self._sum(rim)
        n_inside = self.n - n_rim
        odd_inside = self._sum(self.odd & ~rim) / np.maximum(n_inside, 1)
        excess = self._sum(self.odd & rim) / n_rim - odd_inside
        large = (self.n >= SMALLEST_WITH_INSIDE) & (n_inside >= LEAST_INSIDE)
        return np.asarray(large & (excess >= LEAST_RIM_EXCESS))

    def of_site(self, i: int, peaks: Peaks | None) -> SiteFigures:
        at = slice(int(self.starts[i]), int(self.ends[i]))
        share, is_known = float(self.foreign_share[i]), bool(self.known[at.start])
        partly = self.foreign[at] if 0 < share < 1 else None
        return SiteFigures(
            number=int(self.samples.sites[at.start]),
            code=int(self.samples.codes[at.start]),
            n_pixels=int(self.n[i]),
            mean=tuple(self.mean[i].tolist()),
            spread=None if np.isnan(self.spread[i]) else float(self.spread[i]),
            oddness=float(self.oddness[i]) if is_known else None,
            like=self.like.get(i),
            like_share=share,
            rim=bool(self.rim[i]),
            two_kinds=peaks is not None,
            odd=self.odd[at],
            second=peaks.second if peaks else partly,
        )


def _squared_distances(
    samples: TrainingSamples, known: dict[int, UsualClass]
) -> npt.NDArray[np.float64]:
    """Of each pixel (n,) from what is usual in its own class; 0 where that is not known."""
    squared = np.zeros(len(samples.values))
    for code, own in known.items():
        mine = samples.codes == code
        squared[mine] = own.squared_distances(samples.values[mine])
    return squared


def _medians(
    values: npt.NDArray[np.float64],
    site: npt.NDArray[np.intp],
    starts: npt.NDArray[np.intp],
    n: npt.NDArray[np.intp],
) -> npt.NDArray[np.float64]:
    """Of the values (n,) of each site."""
    by_value = np.argsort(values)
    in_order = values[by_value[np.argsort(site[by_value], kind="stable")]]
    return np.asarray((in_order[starts + (n - 1) // 2] + in_order[starts + n // 2]) / 2)


def rim_of(
    rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32], site: npt.NDArray[np.intp]
) -> BoolArray:
    """Which pixels (n,) touch one that is not of their site, by a side or a corner."""
    width = int(np.ptp(cols)) + 3
    height = int(np.ptp(rows)) + 3
    places = (site.astype(np.int64) * height + (rows - rows.min() + 1)) * width
    places += cols - cols.min() + 1
    known = np.sort(places)
    inside = _are_there(known, places, 0)
    for row in (-width, width):
        inside &= _are_there(known, places, row)
    return ~inside


def _are_there(
    known: npt.NDArray[np.int64], places: npt.NDArray[np.int64], offset: int
) -> BoolArray:
    """Whether three places side by side, the middle one so far from each of ``places``, are all
    among those that are known, in order and each once."""
    left = np.searchsorted(known, places + (offset - 1))
    last = len(known) - 1
    found = known[np.minimum(left, last)] == places + (offset - 1)
    for k in (1, 2):
        found &= known[np.minimum(left + k, last)] == places + (offset - 1 + k)
    return np.asarray(found)
