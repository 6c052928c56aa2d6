"""What is told of trained classifiers and of maps beside each other."""

from datetime import datetime
from typing import Any

from pydantic import BaseModel, Field

from kitesort.api.schemas import Id, In, RunCreate
from kitesort.core.classify.conformal import LEVEL
from kitesort.core.classify.operations.surety import Given
from kitesort.core.classify.stored import DissimilarityInfo, ToldCheck, ToldClusters
from kitesort.core.correct.methods.mask_classes import MapClasses


class WhereIn(In):
    """An extent or outlines in the study's CRS; ``within`` some classes of a map, too."""

    extent: str | None = Field(None, max_length=200)
    outlines: list[dict[str, Any]] = Field(default=[], max_length=500)
    within: MapClasses | None = None


class SuretyIn(In):
    """``give``: layers that tell how sure a map is; ``level`` of what is still possible."""

    give: list[Given] = Field(default_factory=list, max_length=4)
    level: float = Field(LEVEL, ge=0.5, le=0.99)


class SuretyOrder(SuretyIn):
    """At least one."""

    give: list[Given] = Field(min_length=1, max_length=4)


class MapCreate(RunCreate, SuretyIn):
    """``where``: an extent or outlines, in the study's CRS, everywhere where nothing is said."""

    where: WhereIn = Field(default_factory=lambda: WhereIn())


class ApplyCreate(SuretyIn):
    scene_ids: list[Id] = Field(min_length=1, max_length=50)


class FitOut(BaseModel):
    """Whether a trained classifier can be put on a scene, and what to keep in mind."""

    scene_id: int
    problem: str | None
    remarks: list[str]


class NamedClassOut(BaseModel):
    code: int
    name: str
    colour: str


class TrainedClassifierOut(BaseModel):
    """``roles`` and ``quantities``: what each band must see, and what its values must mean."""

    id: int
    name: str
    sentence: str
    method: str
    settings: dict[str, Any]
    seed: int
    roles: list[str]
    quantities: list[str]
    classes: list[NamedClassOut]
    check: ToldCheck | None
    clusters: ToldClusters | None
    dissimilarity: DissimilarityInfo | None
    scene: str | None
    created_at: datetime


class OtherMap(In):
    other_id: Id


class SamePointsOut(BaseModel):
    """Reference points that only the first map has right, only the second, both, neither; ``p`` by
    McNemar's test, None where they never differ."""

    only_first: int
    only_second: int
    both: int
    neither: int
    p: float | None


class MatchedOut(BaseModel):
    first: int
    second: int


class MapComparisonOut(BaseModel):
    """``pixels`` and ``hectares``: from each class of the first map (rows) to each of the second;
    ``same``: share of pixels to which both give a class of the same name. Clusters have no names
    in common: ``matched`` says which are taken for the same, so that as many pixels as can be are
    alike, and ``rand`` is the adjusted Rand index."""

    rows: list[NamedClassOut]
    columns: list[NamedClassOut]
    pixels: list[list[int]]
    hectares: list[list[float]]
    same: float | None
    points: SamePointsOut | None
    matched: list[MatchedOut] | None
    rand: float | None


class TreeLineOut(BaseModel):
    """A question (is the value of ``role`` at most ``limit``?) or an answer (``code``, and the
    ``share`` of the training pixels there); ``branch``: the answer to the question above."""

    depth: int
    branch: bool | None
    role: str | None
    limit: float | None
    code: int | None
    share: float | None
