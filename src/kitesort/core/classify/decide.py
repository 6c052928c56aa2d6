"""From scores to codes, once for all methods."""

import numpy as np

from kitesort.core.classify.protocol import CodeArray
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import UNCLASSIFIED_CODE


def decide(scores: Float64Array, codes: CodeArray, lowest: Float64Array) -> CodeArray:
    """The class with the largest score (classes, n) for each pixel, the first of equals; 255 where
    that score is below the class's lowest."""
    best = scores.argmax(axis=0)
    top = np.take_along_axis(scores, best[None], axis=0)[0]
    return np.where(top >= lowest[best], codes[best], np.uint8(UNCLASSIFIED_CODE))
