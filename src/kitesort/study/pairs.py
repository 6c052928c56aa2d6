"""Which classes are hard to tell apart, and which bands tell them apart."""

from dataclasses import dataclass
from itertools import combinations

from kitesort.core.errors import SingularCovarianceError, TooFewClassesError, TooFewPixelsError
from kitesort.core.group_statistics import USUAL_MINIMUM_PER_BAND, ClassStatistics
from kitesort.core.newest import Newest
from kitesort.core.training.separability import (
    MORE_THAN_BANDS,
    corrected,
    corrected_divergence,
    is_enough,
    saturating,
)
from kitesort.core.training.subsets import FoundSubsets, find_subsets
from kitesort.study.training import TrainingState, training_state

KEPT_ADVICE = 32
KEPT_PAIRS = 40_000  # of 254 classes somewhat more than all
_subsets: Newest[str, FoundSubsets] = Newest(KEPT_ADVICE)


def starved_classes(state: TrainingState) -> list[int]:
    """Codes of classes with some pixels, but fewer than ten per band, which common practice asks
    for."""
    least = USUAL_MINIMUM_PER_BAND * len(state.training.roles)
    return [code for code, s in state.statistics.items() if 0 < s.n_pixels < least]


def untold_classes(state: TrainingState) -> list[int]:
    """Codes of classes with some pixels, but too few for a distance to say anything."""
    n_bands = len(state.training.roles)
    return [
        c for c, s in state.statistics.items() if s.n_pixels and not is_enough(s.n_pixels, n_bands)
    ]


@dataclass(frozen=True)
class Pair:
    """Two classes by code, and how far apart they are, corrected for chance: Bhattacharyya distance
    and divergence, without bound."""

    code: int
    other_code: int
    bhattacharyya: float
    divergence: float

    @property
    def jeffries_matusita(self) -> float:
        return saturating(self.bhattacharyya)

    @property
    def transformed_divergence(self) -> float:
        return saturating(self.divergence / 8)


def hardest_pairs(state: TrainingState) -> list[Pair]:
    """All pairs of classes, corrected for chance, the hardest to tell apart first; without those of
    classes with too few pixels for it."""
    untold = untold_classes(state)
    classes = [(c, s, _told(s)) for c, s in state.statistics.items() if c not in untold]
    pairs = []
    for (a, one, told), (b, other, other_told) in combinations(classes, 2):
        found = _distances.get((told, other_told), lambda x=one, y=other: _apart(x, y))  # type: ignore[misc]
        if found.are_told:
            pairs.append(Pair(a, b, found.bhattacharyya, found.divergence))
    return sorted(pairs, key=lambda pair: pair.bhattacharyya)


@dataclass(frozen=True)
class _Apart:
    """Of two classes; not ``are_told`` where one of them cannot be compared."""

    bhattacharyya: float = 0.0
    divergence: float = 0.0
    are_told: bool = True


def _apart(one: ClassStatistics, other: ClassStatistics) -> _Apart:
    try:
        return _Apart(corrected(one, other), corrected_divergence(one, other))
    except SingularCovarianceError:
        return _Apart(are_told=False)


def _told(one: ClassStatistics) -> bytes:
    """All that distances are made of: an edit changes one class or two."""
    return b"%d" % one.n_pixels + one.mean.tobytes() + one.covariance.tobytes()


@dataclass(frozen=True)
class BandAdvice:
    """The best bands of each number, by role; ``untold``: codes of classes with too few pixels."""

    roles: tuple[str, ...]
    found: FoundSubsets
    untold: list[int]


def best_bands(study_id: int, scene_id: int, roles: tuple[str, ...], limit: float) -> BandAdvice:
    """Which of some bands tell the classes apart.

    Raises
    ------
    TooFewClassesError : fewer than two classes with the pixels for it. MissingRoleError
    """
    state = training_state(study_id, scene_id, roles)
    untold = untold_classes(state)
    classes = [s for code, s in state.statistics.items() if code not in untold]
    if len(classes) < 2:
        raise TooFewClassesError(
            f"Two classes with at least {len(roles) + MORE_THAN_BANDS} pixels each are needed to "
            "compare bands. Draw more sites."
        )
    key = f"{state.version} {limit}"
    return BandAdvice(roles, _subsets.get(key, lambda: find_subsets(classes, limit)), untold)


def pair_bands(
    study_id: int, scene_id: int, roles: tuple[str, ...], codes: tuple[int, int], limit: float
) -> BandAdvice:
    """Which of some bands tell two classes apart.

    Raises
    ------
    TooFewPixelsError : one of them has too few. MissingRoleError
    """
    state = training_state(study_id, scene_id, roles)
    untold = untold_classes(state)
    for code in codes:
        if code in untold or code not in state.statistics:
            name = next((c.name for c in state.training.classes if c.code == code), str(code))
            raise TooFewPixelsError(f"{name} has too few pixels to be compared. Draw more of it.")
    classes = [state.statistics[code] for code in codes]
    key = f"{state.version} {limit} {codes}"
    return BandAdvice(roles, _subsets.get(key, lambda: find_subsets(classes, limit)), untold)


_distances: Newest[tuple[bytes, bytes], _Apart] = Newest(KEPT_PAIRS)
