"""K-means."""

from typing import Literal

from pydantic import Field

from kitesort.core.cluster.methods._lloyd import settle_best
from kitesort.core.cluster.protocol import ClusteringSpec, CountedSettings, Partition
from kitesort.core.engine import Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled


class KMeansSettings(CountedSettings):
    start: Literal["random", "spread", "classes"] = Field(
        "random",
        title="Start",
        description="From where the centres start to move.",
        json_schema_extra=titled(
            {
                "random": "at random, far apart; the best of four",
                "spread": "spread evenly over the values",
                "classes": "at the training sites' class means",
            }
        ),
    )
    distance: Literal["euclidean", "manhattan"] = Field(
        "euclidean",
        title="Distance",
        description="Manhattan: the sum of the differences of all bands; centres are then medians, "
        "and stray values count less.",
        json_schema_extra=titled({"euclidean": "Euclidean", "manhattan": "Manhattan"}),
    )
    iterations: int = Field(
        50, ge=1, le=500, title="Rounds at most", description="The centres move once in each."
    )
    least_change: float = Field(
        0.001,
        ge=0,
        le=0.5,
        title="Good enough",
        description="It ends when at most this share of the pixels changes its cluster in a round.",
        json_schema_extra={"step": 0.001},
    )


def fit(
    pixels: Float64Array, settings: Settings, seed: int, known: Float64Array | None, watch: Watch
) -> Partition:
    """Raises InputError : fewer different pixels than clusters. CancelledError"""
    assert isinstance(settings, KMeansSettings)
    rest = settle_best(
        pixels,
        settings.n_clusters,
        settings.start,
        seed,
        known,
        distance=settings.distance,
        iterations=settings.iterations,
        least_change=settings.least_change,
        watch=watch,
    )
    end = "at rest" if rest.settled else "still moving"
    said = f"{rest.rounds} round{'s' * (rest.rounds > 1)}, {end}"
    return Partition(rest.centres, rounds=(said,), distance=settings.distance)


SPEC = ClusteringSpec(
    id="k-means",
    version=1,
    title="K-means",
    good_for="A quick first look: round clusters of about the same extent.",
    source="Lloyd 1982; MacQueen 1967",
    settings=KMeansSettings,
    fit=fit,
    draws=True,
)
