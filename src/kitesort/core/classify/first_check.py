"""How well training pixels are told apart, before any map is made. Never accuracy: the ground was
chosen by the analyst."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
import numpy.typing as npt
from scipy.special import stdtrit

from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.engine import UNWATCHED, Watch, steps
from kitesort.core.errors import TrainingError
from kitesort.core.legend import N_CODES
from kitesort.core.training.folds import UNTESTED, Grouped, IntArray, assign_folds, pixels_of
from kitesort.core.training.samples import TrainingSamples

Fitting = Callable[[TrainingSamples], TrainedClassifier]
Counts = npt.NDArray[np.int64]
CONFIDENCE = 0.95
N_REPEATS = 5
HELD_OUT = 1 / 3  # of each class's groups, for the learning curve
WORTH = 0.02  # of all pixels told right, by twice as many sites


@dataclass(frozen=True)
class Told:
    """Pixels by class (rows, as drawn) and by what they were told to be (columns, the same classes,
    the last column: unclassified)."""

    codes: tuple[int, ...]
    counts: Counts

    def __add__(self, other: "Told") -> "Told":
        return Told(self.codes, self.counts + other.counts)

    @property
    def right(self) -> npt.NDArray[np.float64]:
        """Share (classes,) of each class's pixels told right; not-a-number without any."""
        totals = self.counts.sum(axis=1)
        hits = np.diag(self.counts)
        return np.divide(hits, totals, where=totals > 0, out=np.full(len(totals), np.nan))

    @property
    def mean_right(self) -> float:
        """Mean of the classes' shares: a class counts as much as another, however large its sites.
        Not-a-number without any."""
        known = self.right[~np.isnan(self.right)]
        return float(known.mean()) if len(known) else float("nan")


@dataclass(frozen=True)
class Interval:
    """A mean over folds and its 95 % limits, None where one fold tells it."""

    mean: float
    low: float | None
    high: float | None


@dataclass(frozen=True)
class CrossValidation:
    """All folds together, each by itself, and classes that could not be tested."""

    told: Told
    folds: tuple[Told, ...]
    untested: tuple[int, ...]

    @property
    def overall(self) -> Interval:
        """Of the mean share right over classes; over the folds."""
        return share_interval([fold.mean_right for fold in self.folds])

    def of_class(self, code: int) -> Interval:
        """Of the share of a class's pixels told right; over the folds that test it."""
        place = self.told.codes.index(code)
        return share_interval([float(fold.right[place]) for fold in self.folds])


def interval(values: Sequence[float]) -> Interval:
    """Mean of values and its limits by Student's t; not-a-number left out.

    The folds share most of their training pixels, so that the limits are rather too narrow
    (Y. Bengio and Y. Grandvalet 2004, Journal of Machine Learning Research 5:1089-1105).
    """
    known = np.array([value for value in values if not np.isnan(value)])
    if len(known) == 0:
        return Interval(float("nan"), None, None)
    mean = float(known.mean())
    if len(known) == 1:
        return Interval(mean, None, None)
    half = float(stdtrit(len(known) - 1, 0.5 + CONFIDENCE / 2)) * float(known.std(ddof=1))
    half /= sqrt(len(known))
    return Interval(mean, mean - half, mean + half)


def share_interval(shares: Sequence[float]) -> Interval:
    """As ``interval``, of shares: limits lie within 0 and 1."""
    found = interval(shares)
    if found.low is None or found.high is None:
        return found
    return Interval(found.mean, max(0.0, found.low), min(1.0, found.high))


def told_back(model: TrainedClassifier, samples: TrainingSamples, codes: tuple[int, ...]) -> Told:
    """What a classifier makes of samples of known classes (``codes``, which hold all of theirs)."""
    places = np.full(N_CODES, len(codes))
    places[list(codes)] = np.arange(len(codes))
    if len(samples.codes) == 0:
        return Told(codes, np.zeros((len(codes), len(codes) + 1), np.int64))
    given = model.classify(np.ascontiguousarray(samples.values.T))
    width = len(codes) + 1
    flat = places[samples.codes] * width + places[given]
    counts = np.bincount(flat, minlength=len(codes) * width)
    return Told(codes, counts.reshape(len(codes), width))


def cross_validate(
    grouped: Grouped,
    fit: Fitting,
    *,
    n_folds: int = 5,
    least_pixels: int = 1,
    seed: int = 0,
    watch: Watch = UNWATCHED,
) -> CrossValidation:
    """Train without each fold of whole sites, and tell its pixels.

    ``least_pixels``: that a class needs to be trained.

    Raises
    ------
    CancelledError, TrainingError : the rest cannot be trained.
    """
    samples = grouped.samples
    folds = assign_folds(grouped, n_folds, least_pixels, seed)
    models = fold_models(samples, folds, fit, watch)
    return validation_of(samples, folds, ((samples.where(tested), m) for tested, m in models))


def fold_models(
    samples: TrainingSamples, folds: IntArray, fit: Fitting, watch: Watch = UNWATCHED
) -> Iterator[tuple[npt.NDArray[np.bool_], TrainedClassifier]]:
    """For each fold which pixels (n,) it tests, and what the others taught.

    Raises
    ------
    CancelledError, TrainingError
    """
    for fold in steps([f for f in np.unique(folds) if f != UNTESTED], watch):
        tested = folds == fold
        yield tested, fit(samples.where(~tested))


def validation_of(
    samples: TrainingSamples,
    folds: IntArray,
    told: Iterable[tuple[TrainingSamples, TrainedClassifier]],
) -> CrossValidation:
    """From the pixels of each fold and the classifier that had not seen them."""
    codes = samples.class_codes
    each = tuple(told_back(model, part, codes) for part, model in told)
    untested = tuple(c for c in codes if (folds[samples.codes == c] == UNTESTED).all())
    nothing = Told(codes, np.zeros((len(codes), len(codes) + 1), np.int64))
    return CrossValidation(sum(each, nothing), each, untested)


@dataclass(frozen=True)
class CurvePoint:
    """Mean share right with at most so many sites of each class, and its spread over the draws."""

    n_sites: int
    right: float
    deviation: float


def learning_curve(
    grouped: Grouped,
    fit: Fitting,
    *,
    least_pixels: int = 1,
    seed: int = 0,
    watch: Watch = UNWATCHED,
) -> tuple[CurvePoint, ...]:
    """What more sites bring: a third of each class's sites is held out, and growing numbers of the
    others train; five draws. Empty where no class has the sites for it.

    Raises
    ------
    CancelledError, TrainingError
    """
    draws = [_Draw(grouped, np.random.default_rng([seed, i])) for i in range(N_REPEATS)]
    sizes = _sizes(draws[0].most)
    found = []
    for n in steps(sizes, watch):
        shares = [draw.right_with(n, fit, least_pixels) for draw in draws]
        known = np.array([share for share in shares if share is not None])
        if len(known) > N_REPEATS // 2:
            found.append(CurvePoint(n, float(known.mean()), float(known.std())))
    return tuple(found)


def curve_words(curve: Sequence[CurvePoint]) -> str:
    """What a learning curve says: whether the last doubling of the sites still brought much."""
    if len(curve) < 2:
        return "There are too few sites to say whether more would help."
    last = curve[-1]
    before = max((p for p in curve[:-1] if p.n_sites * 2 <= last.n_sites), default=curve[0],
                 key=lambda p: p.n_sites)  # fmt: skip
    gain = last.right - before.right
    told = (
        f"From {_sites(before.n_sites)} of a class to {last.n_sites}, the share told right went "
        f"from {_percent(before.right)} to {_percent(last.right)}."
    )
    if gain >= WORTH:
        return f"{told} More sites should help further."
    return (
        f"{told} More of the same would bring little: other bands, indices or dates may, or sites "
        "of kinds not drawn yet."
    )


def _percent(share: float) -> str:
    return f"{100 * share:.0f} %"


def _sites(n: int) -> str:
    return "1 site" if n == 1 else f"{n} sites"


def _sizes(most: int) -> list[int]:
    """1, 2, 3, 4, 6, 8, 12, 16, 24 … and the most there is."""
    round_ones = {1} | {2**i for i in range(1, 12)} | {3 * 2**i for i in range(11)}
    return sorted({n for n in round_ones if n < most} | {most}) if most > 0 else []


class _Draw:
    """One draw: which groups are held out, and in which order the others come."""

    def __init__(self, grouped: Grouped, rng: np.random.Generator) -> None:
        self._grouped = grouped
        self._order: dict[int, list[int]] = {}
        held: list[int] = []
        for code, groups in grouped.groups.items():
            numbers = list(groups)
            drawn = [numbers[i] for i in rng.permutation(len(numbers))]
            n_held = max(1, round(HELD_OUT * len(drawn))) if len(drawn) > 1 else 0
            held += drawn[:n_held]
            self._order[code] = drawn[n_held:]
        self._tested = grouped.samples.where(pixels_of(grouped, held))
        self.most = max((len(order) for order in self._order.values()), default=0)
        self._is_worth = bool(held)

    def right_with(self, n: int, fit: Fitting, least_pixels: int) -> float | None:
        """Mean share right; None where too little is left to train. Classes that cannot be trained
        with so few sites count as told wrong."""
        if not self._is_worth:
            return None
        used = [group for order in self._order.values() for group in order[:n]]
        some = self._grouped.samples.where(pixels_of(self._grouped, used))
        enough = [c for c in some.class_codes if (some.codes == c).sum() >= least_pixels]
        if len(enough) < 2:
            return None
        try:
            model = fit(some.of_classes(enough))
        except TrainingError:  # so few pixels that they are all the same in a band
            return None
        return told_back(model, self._tested, self._grouped.samples.class_codes).mean_right
