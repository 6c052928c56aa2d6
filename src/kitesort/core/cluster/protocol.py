"""What a clustering method is: settings, a fit that groups a sample of pixels, and a SPEC."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.engine import Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled

FEWEST_PIXELS = 100  # of which nothing can be learnt; more are common practice by far
MOST_SAMPLED = 2_000_000
MOST_CLUSTERS = 60
SCALES = titled({"mixed": "where they have different units", "always": "always", "never": "never"})
Distance = Literal["euclidean", "manhattan"]


class ClusteringSettings(Settings):
    """What every method asks."""

    n_sampled: int = Field(
        100_000,
        ge=FEWEST_PIXELS,
        le=MOST_SAMPLED,
        title="Pixels looked at",
        description="Drawn over the whole scene, spread evenly. As many as the scene has, or more, "
        "are every pixel.",
    )
    standardise: Literal["mixed", "always", "never"] = Field(
        "mixed",
        title="Layers on one scale",
        description="Each layer less its mean, over its standard deviation: else the layer that "
        "spreads furthest decides.",
        json_schema_extra=SCALES,
    )
    zero_is_fill: bool = Field(
        True,
        title="Leave out zero fill",
        description="Pixels that are zero in every layer belong to no cluster, and have no data in "
        "the map.",
    )

    @property
    def looks_at_every(self) -> bool:
        """Whether every pixel is looked at after those that were drawn."""
        return False


class CountedSettings(ClusteringSettings):
    """Of methods that are told how many clusters to find."""

    n_clusters: int = Field(
        8,
        ge=2,
        le=MOST_CLUSTERS,
        title="Clusters",
        description="More than there are covers: several clusters can be given one class.",
    )


Sizes = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Partition:
    """What a method found: centres (clusters, bands) on the sample's scale; of a mixture also
    covariances (clusters, bands, bands) there, weights (clusters,), which sum to one, and how many
    numbers of the covariances are ``n_free`` to be chosen. ``rounds`` tells in words what was done
    in each; ``distance``: by which a pixel's cluster is the nearest; ``sizes`` (clusters,): pixels
    of each, where more of them were looked at than the sample's.
    """

    centres: Float64Array
    covariances: Float64Array | None = None
    weights: Float64Array | None = None
    n_free: int = 0
    rounds: tuple[str, ...] = ()
    distance: Distance = "euclidean"
    sizes: Sizes | None = None


@dataclass(frozen=True)
class Moved:
    """Centres (clusters, bands) that rest, or have moved as often as they may, pixels (clusters,)
    of each, and after how many rounds."""

    centres: Float64Array
    sizes: Sizes
    rounds: int
    settled: bool


# Pixels (n, bands) on one scale, settings, seed, means of known classes on that scale, watch.
Fit = Callable[[Float64Array, Settings, int, Float64Array | None, Watch], Partition]

# Moves centres on over every pixel of the scene: at most so many rounds, until at most a share of
# the pixels changes its cluster.
MoveOn = Callable[[Float64Array, int, float], Moved]
GoOn = Callable[[Partition, Settings, MoveOn], Partition]


@dataclass(frozen=True)
class ClusteringSpec:
    """A clustering method as it appears in the API, the form, the recipe and the guide.

    ``go_on``: what becomes of what was found on a sample when every pixel is looked at, of methods
    that can. ``draws``: whether the seed may change anything. ``counted``: whether it is told how
    many clusters to find. ``judged_by``: what speaks for a number of clusters, the variance ratio
    or the information criterion.
    """

    id: str
    version: int
    title: str
    good_for: str
    source: str
    settings: type[ClusteringSettings]
    fit: Fit
    go_on: GoOn | None = None
    draws: bool = False
    judged_by: Literal["ratio", "criterion"] = "ratio"

    @property
    def counted(self) -> bool:
        return issubclass(self.settings, CountedSettings)
