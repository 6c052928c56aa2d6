"""A hierarchical tree of pixels, cut."""

from typing import Literal

import numpy as np
from pydantic import Field
from scipy.cluster.hierarchy import fcluster, linkage

from kitesort.core.cluster.methods._lloyd import require_different
from kitesort.core.cluster.protocol import MOST_CLUSTERS, ClusteringSpec, CountedSettings, Partition
from kitesort.core.engine import Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled

MOST_IN_TREE = 4000  # its memory grows with the square


class HierarchicalSettings(CountedSettings):
    cut: Literal["number", "height"] = Field(
        "number",
        title="Cut",
        description="Where the tree is cut into clusters.",
        json_schema_extra=titled(
            {"number": "at the number of clusters above", "height": "at the height below"}
        ),
    )
    height: float = Field(
        10.0,
        gt=0,
        le=1e9,
        title="Height",
        description="Two groups stay apart where joining them would cost more (Ward's distance, on "
        "the layers' scale).",
    )


def fit(
    pixels: Float64Array, settings: Settings, _seed: int, _known: Float64Array | None, watch: Watch
) -> Partition:
    """Of a part of the sample: Ward's tree. Every other pixel goes to the nearest mean.

    Source: J. H. Ward 1963, Journal of the American Statistical Association 58:236-244.

    Raises
    ------
    InputError : fewer different pixels than clusters, or a height that leaves one, or too many.
    """
    assert isinstance(settings, HierarchicalSettings)
    part = pixels[:: max(1, -(-len(pixels) // MOST_IN_TREE))]
    watch.require_wanted()
    if settings.cut == "number":
        require_different(part, settings.n_clusters)
    tree = linkage(part, "ward")
    watch.require_wanted()
    if settings.cut == "number":
        labels = fcluster(tree, settings.n_clusters, "maxclust")
    else:
        labels = fcluster(tree, settings.height, "distance")
        _require_some(int(labels.max()), settings.height, tree)
    centres = np.stack([part[labels == label].mean(axis=0) for label in np.unique(labels)])
    return Partition(centres, rounds=(f"a tree of {len(part)} pixels, cut into {len(centres)}",))


def _require_some(n: int, height: float, tree: Float64Array) -> None:
    if 2 <= n <= MOST_CLUSTERS:
        return
    low, high = (float(tree[-at, 2]) for at in (min(MOST_CLUSTERS, len(tree)), 1))
    made = "one cluster" if n < 2 else f"{n} clusters"
    raise InputError(
        f"Cut at {height:g} the tree makes {made}. Between {low:.3g} and {high:.3g} it makes 2 to "
        f"{MOST_CLUSTERS}."
    )


SPEC = ClusteringSpec(
    id="hierarchical",
    version=1,
    title="Hierarchical tree",
    good_for="Seeing which groups belong together; of a few thousand pixels.",
    source="Ward 1963",
    settings=HierarchicalSettings,
    fit=fit,
)
