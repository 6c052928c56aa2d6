"""Competitive learning."""

import numpy as np
from pydantic import Field

from kitesort.core.cluster.methods._assign_kernel import learn_by_turns
from kitesort.core.cluster.methods._lloyd import starting_centres
from kitesort.core.cluster.protocol import ClusteringSpec, CountedSettings, Partition
from kitesort.core.engine import Progress, Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings


class CompetitiveSettings(CountedSettings):
    rate: float = Field(
        0.1,
        gt=0,
        le=1,
        title="Learning rate",
        description="What part of the way a centre moves towards a pixel that it wins, at first; "
        "it falls to nothing.",
        json_schema_extra={"step": 0.01},
    )
    epochs: int = Field(
        5, ge=1, le=100, title="Epochs", description="How often every pixel has its turn."
    )


def fit(
    pixels: Float64Array, settings: Settings, seed: int, _known: Float64Array | None, watch: Watch
) -> Partition:
    """Raises InputError : fewer different pixels than clusters. CancelledError

    Source: S. C. Ahalt, A. K. Krishnamurthy, P. Chen & D. E. Melton 1990, Neural Networks
    3:277-290 (frequency-sensitive competitive learning; from memory).
    """
    assert isinstance(settings, CompetitiveSettings)
    start = starting_centres(pixels, settings.n_clusters, "random", seed, None)
    centres, rng = np.ascontiguousarray(start), np.random.default_rng(seed)
    for epoch in range(settings.epochs):
        watch.require_wanted()
        rates = (settings.rate * (1 - at / settings.epochs) for at in (epoch, epoch + 1))
        learn_by_turns(pixels, centres, rng.permutation(len(pixels)), *rates)
        watch.progress(Progress((epoch + 1) / settings.epochs, None))
    n = settings.epochs
    return Partition(centres, rounds=(f"{n} epoch{'s' * (n > 1)} of {len(pixels)} pixels",))


SPEC = ClusteringSpec(
    id="competitive",
    version=1,
    title="Competitive learning",
    good_for="Centres that go where pixels are many; small covers are easily missed.",
    source="Ahalt et al. 1990",
    settings=CompetitiveSettings,
    fit=fit,
    draws=True,
)
