"""K-means."""

from dataclasses import replace
from typing import Literal

from pydantic import Field, model_validator

from kitesort.core.cluster.methods._lloyd import settle_best
from kitesort.core.cluster.protocol import (
    ClusteringSpec,
    CountedSettings,
    MoveOn,
    Partition,
)
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
    every_pixel: bool = Field(
        False,
        title="Every pixel in the end",
        description="When the whole scene is clustered, the centres go on moving over all of its "
        "pixels. The scene is read in every round, and clusters are seldom others.",
    )

    @model_validator(mode="after")
    def _medians_are_no_sums(self) -> "KMeansSettings":
        if self.every_pixel and self.distance == "manhattan":
            raise ValueError(
                "every pixel goes with Euclidean distances; with the others centres are medians, "
                "which cannot be added up block by block"
            )
        return self

    @property
    def looks_at_every(self) -> bool:
        return self.every_pixel


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
    said = _words(rest.rounds, rest.settled)
    return Partition(rest.centres, rounds=(said,), distance=settings.distance)


def go_on(found: Partition, settings: Settings, move_on: MoveOn) -> Partition:
    """The same rounds over every pixel, from where the sample's ended."""
    assert isinstance(settings, KMeansSettings)
    moved = move_on(found.centres, settings.iterations, settings.least_change)
    said = f"then {_words(moved.rounds, moved.settled)}, over every pixel"
    return replace(found, centres=moved.centres, sizes=moved.sizes, rounds=(*found.rounds, said))


def _words(rounds: int, settled: bool) -> str:
    return f"{rounds} round{'s' * (rounds > 1)}, {'at rest' if settled else 'still moving'}"


SPEC = ClusteringSpec(
    id="k-means",
    version=1,
    title="K-means",
    good_for="A quick first look: round clusters of about the same extent.",
    source="Lloyd 1982; MacQueen 1967",
    settings=KMeansSettings,
    fit=fit,
    go_on=go_on,
    draws=True,
)
