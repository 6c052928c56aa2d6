"""What learning methods share: enough classes, and one order of pixels and bands."""

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import TooFewClassesError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray, code_array
from kitesort.core.training.samples import TrainingSamples

STANDARDISE = (
    "Each layer less its mean, over its standard deviation, both of the training pixels: needed "
    "where layers have different units, as an index beside a height."
)


def require_classes(samples: TrainingSamples) -> None:
    """Raises TooFewClassesError : fewer than two classes."""
    if len(samples.class_codes) < 2:
        raise TooFewClassesError(
            "A classification needs at least two classes with training sites. Draw a second class."
        )


def by_name(roles: tuple[str, ...]) -> npt.NDArray[np.int64]:
    """Places (bands,) of the bands in the order of their names: who draws bands draws them in that
    order, so that the order in which they were chosen changes nothing."""
    return np.argsort(np.array(roles))


def in_one_order(samples: TrainingSamples) -> TrainingSamples:
    """By class, then by values: in whatever order pixels and bands come, the same is learnt."""
    keys = (*samples.values.T[by_name(samples.roles)][::-1], samples.codes)
    order = np.lexsort(keys)
    return TrainingSamples(
        samples.values[order], samples.codes[order], samples.roles, samples.names,
        samples.sites[order], samples.rows[order], samples.cols[order],
    )  # fmt: skip


def codes_of(samples: TrainingSamples) -> CodeArray:
    return code_array(samples.class_codes)


def no_limit(n_classes: int) -> Float64Array:
    """Scores with which a pixel still gets a class: any."""
    return np.full(n_classes, -np.inf)
