"""Where another training site would teach most: places where the classifier wavers over a whole
patch, or that look like nothing it was trained on, each typical of much ground of its kind."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy.ndimage import maximum_filter, uniform_filter

from kitesort.core.classify.protocol import ScoreKind, TrainedClassifier
from kitesort.core.classify.shares import margin_of, shares_of
from kitesort.core.engine import UNWATCHED, Watch, steps
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import plan_sample
from kitesort.core.training.samples import TrainingSamples

MOST_PIXELS = 700_000  # that are looked at
PATCH_PX = 5  # side of the patch that shall waver: a border between two fields is thinner
STEP_PX = 7  # between candidates
NEAR_SITE_PX = 8  # a candidate so near to a site is none
USUAL_SHARE = 0.02  # of the training pixels score lower in their own class than what is usual
STRANGE = 0.5  # doubt because of strangeness, from which on ground is called strange
Float64 = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Place:
    """A pixel (row, column), the two classes between which the classifier wavers in the 5 × 5
    pixels around it with their mean scores (shares that sum to one over all classes), how far the
    nearest site is (pixels), and whether that ground is unlike anything trained on."""

    row: int
    col: int
    codes: tuple[int, int]
    scores: tuple[float, float]
    distance: float
    strange: bool


@dataclass(frozen=True)
class _Candidates:
    """Rows and columns (n,), mean values of the patch around each (n, bands), doubt (n,)."""

    rows: npt.NDArray[np.int64]
    cols: npt.NDArray[np.int64]
    values: Float64
    doubt: Float64


def where_next(
    raster: Raster,
    model: TrainedClassifier,
    kind: ScoreKind,
    samples: TrainingSamples,
    *,
    n: int = 10,
    seed: int = 0,
    watch: Watch = UNWATCHED,
) -> list[Place]:
    """At most ``n`` places, the most doubtful first, among native pixels spread over the scene.

    Every seventh pixel is a candidate, but for those near a site. Its doubt is that of the 5 × 5
    pixels around it: how near the second best score comes to the best, or how far the best one lies
    below what training pixels get in their own class. Candidates are grouped by their values
    (k-means, each weighted by the square of its doubt), and of each group the one is taken that is
    both doubtful and typical: so places differ from one another, and none stands for a rarity.

    Raises
    ------
    CancelledError
    """
    usual = _usual_score(model, samples)
    parts = list(_candidates(raster, model, kind, samples, usual, watch))
    if not parts:
        return []
    found = _Candidates(
        np.concatenate([part.rows for part in parts]),
        np.concatenate([part.cols for part in parts]),
        np.concatenate([part.values for part in parts]),
        np.concatenate([part.doubt for part in parts]),
    )
    chosen = _typical(found, n, seed)
    return [_place(raster, model, kind, samples, usual, found, i) for i in chosen]


def _usual_score(model: TrainedClassifier, samples: TrainingSamples) -> float:
    best = model.scores(np.ascontiguousarray(samples.values.T)).max(axis=0)
    return float(np.quantile(best, USUAL_SHARE))


def _candidates(
    raster: Raster,
    model: TrainedClassifier,
    kind: ScoreKind,
    samples: TrainingSamples,
    usual: float,
    watch: Watch,
) -> Iterator[_Candidates]:
    for window in steps(plan_sample(raster.grid, most=MOST_PIXELS).windows, watch):
        block = raster.read(window, model.roles)
        rows, cols = _grid_of(window, block.valid, samples)
        if not len(rows):
            continue
        doubt = np.zeros(block.valid.shape)
        scores = model.scores(np.ascontiguousarray(block.values[:, block.valid]))
        doubt[block.valid] = np.maximum(*_doubts(scores, kind, usual, len(model.roles)))
        filled = np.where(block.valid, block.values, 0.0).astype(np.float64)
        patches = np.stack([uniform_filter(band, PATCH_PX) for band in filled])
        weights = uniform_filter(doubt, PATCH_PX)[rows, cols]
        yield _Candidates(rows + window.row, cols + window.col, patches[:, rows, cols].T, weights)


def _grid_of(
    window: Window, valid: npt.NDArray[np.bool_], samples: TrainingSamples
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """Rows and columns, within a window, of the candidates: wholly usable patches away from
    sites."""
    half = PATCH_PX // 2
    row, col = np.mgrid[half : window.height - half : STEP_PX, half : window.width - half : STEP_PX]
    whole = uniform_filter(valid.astype(np.float64), PATCH_PX, mode="constant") > 1 - 1e-6
    taken = _near_sites(window, samples)
    good = whole[row, col] & ~taken[row, col]
    return row[good], col[good]


def _near_sites(window: Window, samples: TrainingSamples) -> npt.NDArray[np.bool_]:
    """Which pixels (row, col) of a window lie within some pixels of a training pixel."""
    reach = NEAR_SITE_PX
    around = np.zeros((window.height + 2 * reach, window.width + 2 * reach), np.bool_)
    rows, cols = samples.rows - window.row + reach, samples.cols - window.col + reach
    inside = (rows >= 0) & (rows < around.shape[0]) & (cols >= 0) & (cols < around.shape[1])
    around[rows[inside], cols[inside]] = True
    near = maximum_filter(around, 2 * reach + 1)
    return np.asarray(near[reach:-reach, reach:-reach])


def _doubts(
    scores: npt.NDArray[np.floating], kind: ScoreKind, usual: float, n_bands: int
) -> tuple[Float64, Float64]:
    """How much each pixel (n,) wavers between two classes, and how strange it is; both 0 to 1."""
    if scores.shape[1] == 0:
        return np.empty(0), np.empty(0)
    if kind != "log likelihood":
        margin = margin_of(shares_of(scores, kind))
        return np.asarray(1 - margin), np.zeros(len(margin))
    second, best = np.sort(scores, axis=0)[-2:]
    wavering = 1 / (1 + (best - second) / n_bands)
    return np.asarray(wavering), np.asarray(np.clip((usual - best) / (3 * n_bands), 0, 1))


def _typical(found: _Candidates, n: int, seed: int) -> list[int]:
    """Places of the candidates that are taken, the most doubtful first."""
    from sklearn.cluster import KMeans  # slow to import, and only needed here

    weights = found.doubt**2
    if not (weights > 0).any():
        return []
    spread = found.values.std(axis=0)
    scaled = found.values / np.where(spread > 0, spread, 1)
    groups = min(n, len(np.unique(scaled, axis=0)))
    means = KMeans(groups, n_init=3, random_state=seed).fit(scaled, sample_weight=weights + 1e-9)
    chosen = []
    for group in range(groups):
        members = np.flatnonzero(means.labels_ == group)
        if len(members):
            away = np.linalg.norm(scaled[members] - means.cluster_centers_[group], axis=1)
            chosen.append(int(members[(found.doubt[members] / (0.3 + away)).argmax()]))
    return sorted(chosen, key=lambda i: (-found.doubt[i], i))


def _place(
    raster: Raster,
    model: TrainedClassifier,
    kind: ScoreKind,
    samples: TrainingSamples,
    usual: float,
    found: _Candidates,
    i: int,
) -> Place:
    row, col = int(found.rows[i]), int(found.cols[i])
    half = PATCH_PX // 2
    block = raster.read(Window(row - half, col - half, PATCH_PX, PATCH_PX), model.roles)
    scores = model.scores(np.ascontiguousarray(block.values.reshape(len(model.roles), -1)))
    shares = shares_of(scores, kind).mean(axis=1)
    first, second = (int(j) for j in np.argsort(-shares, kind="stable")[:2])
    _, strange = _doubts(scores, kind, usual, len(model.roles))
    return Place(
        row,
        col,
        (int(model.codes[first]), int(model.codes[second])),
        (float(shares[first]), float(shares[second])),
        float(np.hypot(samples.rows - row, samples.cols - col).min(initial=np.inf)),
        bool(strange.mean() >= STRANGE),
    )
