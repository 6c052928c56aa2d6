"""Pixels in memory by each method, beside a reference library on all cores: made-up classes that
overlap, 6 bands, 9 classes."""

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.spatial.distance import cdist
from sklearn.ensemble import RandomForestClassifier
from sklearn.neighbors import KNeighborsClassifier
from sklearn.neural_network import MLPClassifier
from sklearn.svm import SVC

from bench.classify import seconds_on_all_cores
from bench.result import Result, timed
from bench.sizes import size
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.engine import UNWATCHED
from kitesort.core.training.samples import TrainingSamples

BANDS, CLASSES, NOISE = 6, 9, 0.08
BLOCK = 2**16
MILLION = size(1_000_000, 10_000)
Float32 = npt.NDArray[np.float32]


class Ground:
    """Training pixels (n, bands), and pixels to be told (bands, n)."""

    def __init__(self, n_training: int, n_pixels: int) -> None:
        rng = np.random.default_rng(0)
        means = rng.uniform(0.05, 0.4, (CLASSES, BANDS))
        self.codes = rng.integers(0, CLASSES, n_training)
        noise = rng.normal(0, NOISE, (n_training, BANDS))
        self.values = (means[self.codes] + noise).astype(np.float32)
        of_pixel = rng.integers(0, CLASSES, n_pixels)
        told = means[of_pixel] + rng.normal(0, NOISE, (n_pixels, BANDS))
        self.rows = told.astype(np.float32)
        self.pixels = np.ascontiguousarray(self.rows.T)

    @property
    def samples(self) -> TrainingSamples:
        names = {code: str(code) for code in range(1, CLASSES + 1)}
        roles = tuple("abcdef"[:BANDS])
        return TrainingSamples.of_pixels(
            self.values, (self.codes + 1).astype(np.uint8), roles, names
        )

    def fit(self, method: str, **settings: Any) -> Any:
        spec = CLASSIFIERS[method]
        return spec.fit(self.samples, spec.settings(**settings), 0, UNWATCHED)


def _row(
    what: str, ground: Ground, model: Any, other: Callable[[], object], other_is: str, times: float
) -> Result:
    model.classify(ground.pixels[:, :1000])
    ours = seconds_on_all_cores(model, ground.pixels)
    theirs = timed(other)
    wanted = f"at least {times:g} × as fast"
    return Result(what, ours, theirs, other_is, "s", wanted, theirs / ours >= times)


def forest() -> Result:
    ground = Ground(3_800, MILLION)
    model = ground.fit("random-forest")
    reference = RandomForestClassifier(100, random_state=0, n_jobs=-1)
    reference.fit(ground.values, ground.codes)
    what = f"random forest, 100 trees, {len(model.trees.feature):,} nodes, 1 million pixels"
    return _row(what, ground, model, lambda: reference.predict(ground.rows),
                "scikit-learn, all cores", 3)  # fmt: skip


def distances() -> Iterator[Result]:
    """In blocks, as somebody would write it."""
    ground = Ground(3_800, 2 * MILLION)
    means = np.stack([ground.values[ground.codes == c].mean(axis=0) for c in range(CLASSES)])
    low = np.stack([ground.values[ground.codes == c].min(axis=0) for c in range(CLASSES)])
    high = np.stack([ground.values[ground.codes == c].max(axis=0) for c in range(CLASSES)])
    within = np.concatenate([ground.values[ground.codes == c] - means[c] for c in range(CLASSES)])
    precision = np.linalg.inv(np.cov(within, rowvar=False))

    def boxes(block: Float32) -> object:
        inside = ((block[:, None] >= low) & (block[:, None] <= high)).all(axis=2)
        return np.where(inside, cdist(block, means, "sqeuclidean"), np.inf).argmin(axis=1)

    rules: dict[str, Callable[[Float32], object]] = {
        "minimum-distance": lambda b: cdist(b, means).argmin(axis=1),
        "mahalanobis": lambda b: cdist(b, means, "mahalanobis", VI=precision).argmin(axis=1),
        "spectral-angle": lambda b: np.arccos(np.clip(1 - cdist(b, means, "cosine"), -1, 1)).argmin(
            axis=1
        ),
        "parallelepiped": boxes,
    }
    for method, rule in rules.items():
        title = CLASSIFIERS[method].title.lower()
        model, other = ground.fit(method), _in_blocks(ground, rule)
        what = f"{title}, 2 million pixels"
        yield _row(what, ground, model, other, "NumPy and SciPy in blocks", 3)


def _in_blocks(ground: Ground, rule: Callable[[Float32], object]) -> Callable[[], object]:
    starts = range(0, len(ground.rows), BLOCK)
    return lambda: [rule(ground.rows[i : i + BLOCK]) for i in starts]


def neighbours() -> Result:
    ground = Ground(5_000, MILLION)
    model = ground.fit("nearest-neighbours")
    reference = KNeighborsClassifier(5, algorithm="kd_tree", n_jobs=-1)
    reference.fit(model.points, model.labels)
    scaled = (ground.rows.astype(float) - model.centre) * model.factor
    what = "nearest neighbours, 5 of 5 000, 1 million pixels"
    other_is = "scikit-learn k-d tree, all cores"
    return _row(what, ground, model, lambda: reference.predict(scaled), other_is, 2)


def support_vectors() -> Result:
    ground = Ground(1_900, MILLION // 5)
    model = ground.fit("support-vectors", cost=1.0)
    scaled = (ground.rows.astype(float) - model.centre) * model.factor
    learnt = (ground.values.astype(float) - model.centre) * model.factor
    reference = SVC(C=1.0, gamma=1 / BANDS).fit(learnt, ground.codes)
    what = f"support vectors, radial, {len(model.vectors):,} of them, 200 000 pixels"
    return _row(what, ground, model, lambda: reference.predict(scaled), "scikit-learn", 3)


def network() -> Result:
    ground = Ground(3_800, 2 * MILLION)
    model = ground.fit("neural-network", layers=(64, 32), epochs=5, patience=0)
    scaled = (ground.rows.astype(float) - model.centre) * model.factor
    reference = MLPClassifier((64, 32)).partial_fit(
        scaled[:3000], ground.codes[:3000], classes=range(CLASSES)
    )
    return _row("neural network 64-32, 2 million pixels", ground, model,
                lambda: reference.predict(scaled), "scikit-learn", 1.5)  # fmt: skip


def all_methods() -> Iterator[Result]:
    yield forest()
    yield from distances()
    yield neighbours()
    yield support_vectors()
    yield network()
