"""What is told of clusters, and what can be asked of them."""

from typing import Any

from pydantic import BaseModel, Field

from kitesort.api.schemas import Id, In
from kitesort.core.cluster.protocol import MOST_CLUSTERS
from kitesort.core.legend import MOST_CLASSES, ClassCode
from kitesort.study.method import MOST_SEED


class ClusteringOut(BaseModel):
    """A clustering method. ``counted``: it is told how many clusters to find; ``draws``: its seed
    may change something."""

    id: str
    title: str
    good_for: str
    source: str
    draws: bool
    counted: bool
    settings_schema: dict[str, Any]


class LiveClusterOut(BaseModel):
    code: int
    colour: str
    share: float


class LiveClustersOut(BaseModel):
    """Clusters found on ``n_sampled`` of ``n_usable`` pixels read, all of the scene's where
    ``exact``; ``version`` names their tiles, None where ``problem`` says why there are none."""

    version: str | None
    problem: str | None
    clusters: list[LiveClusterOut]
    rounds: list[str]
    n_sampled: int
    n_usable: int
    exact: bool


class ClusterCreate(In):
    scene_id: Id
    roles: list[str] = Field(min_length=1, max_length=500)
    method: str = Field("k-means", max_length=80)
    settings: dict[str, Any] = Field(default_factory=dict)
    seed: int = Field(0, ge=0, le=MOST_SEED)


class CountsCreate(ClusterCreate):
    fewest: int = Field(2, ge=2, le=MOST_CLUSTERS)
    most: int = Field(12, ge=2, le=MOST_CLUSTERS)


class DivideCreate(ClusterCreate):
    code: ClassCode


class NameIn(In):
    code: ClassCode
    class_id: Id | None


class NamesIn(In):
    names: list[NameIn] = Field(min_length=1, max_length=MOST_CLASSES)


class PlaceOut(BaseModel):
    x: float
    y: float


class SuggestionOut(BaseModel):
    """``n_sites`` of the ``n_here`` training sites that lie in the cluster are of the class."""

    class_id: int
    n_sites: int
    n_here: int


class ClusterOut(BaseModel):
    """``share`` of the map; ``mean`` and ``spread`` by band; ``class_id``: what it is named."""

    code: int
    name: str
    colour: str
    share: float
    mean: list[float]
    spread: list[float]
    places: list[PlaceOut]
    nearest: int | None
    class_id: int | None
    suggestion: SuggestionOut | None


class JointOut(BaseModel):
    """Leaves are places in the list of clusters; a joint is called by the number of clusters plus
    its own place."""

    first: int
    second: int
    height: float


class ClusterMapOut(BaseModel):
    """``version`` changes with every name; ``named``: share of the map that has a
    class; ``exact``: shares were counted over all pixels."""

    layer_id: int
    title: str
    scene_id: int
    method: str
    roles: list[str]
    clusters: list[ClusterOut]
    tree: list[JointOut]
    rounds: list[str]
    n_sampled: int
    n_usable: int
    named: float
    exact: bool
    version: str


class MadeMapOut(BaseModel):
    layer_id: int
    title: str
