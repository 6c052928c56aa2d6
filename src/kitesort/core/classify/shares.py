"""Scores as shares that sum to one, once for all methods; what a pixel's shares say of it."""

import numpy as np
import numpy.typing as npt
from scipy.special import softmax

from kitesort.core.classify.protocol import ScoreKind
from kitesort.core.group_statistics import Float64Array

NEAREST = 1e-30  # squared distances below it are taken for it: a pixel that is a class's mean


def shares_of(scores: npt.NDArray[np.floating], kind: ScoreKind) -> Float64Array:
    """Shares (classes, n) of scores (classes, n).

    Log likelihoods by Bayes' rule; probabilities and votes as they are; the margins of decision
    values by their exponentials; distances and angles by the inverse of their square, as
    memberships in fuzzy clustering (J. C. Bezdek 1981, Pattern Recognition with Fuzzy Objective
    Function Algorithms, with exponent 2), which no unit changes.
    """
    values = np.asarray(scores, np.float64)
    if kind in ("log likelihood", "decision"):
        return np.asarray(softmax(values, axis=0))
    if kind == "squared distance":
        values = 1 / np.maximum(-values, NEAREST)
    elif kind == "cosine":
        values = 1 / np.maximum(np.arccos(np.clip(values, -1, 1)) ** 2, NEAREST)
    total = values.sum(axis=0)
    return np.asarray(values / np.where(total > 0, total, 1))


def margin_of(shares: Float64Array) -> Float64Array:
    """Confidence (n,): the best share less the second best, 0 to 1."""
    if shares.shape[1] == 0:
        return np.empty(0)
    if shares.shape[0] == 1:
        return np.asarray(shares[0])
    second, best = np.partition(shares, -2, axis=0)[-2:]
    return np.asarray(best - second)
