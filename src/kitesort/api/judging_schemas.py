"""Shapes of judged sites, advice, and acts over many sites."""

from typing import Any

from pydantic import BaseModel, Field, FiniteFloat

from kitesort.api.schemas import Id, In
from kitesort.core.training.advice import Act
from kitesort.study.site_acts import SiteAct

MOST_SITES = 200_000


class JudgedSiteOut(BaseModel):
    """``spread``: standard deviation over that of its class; ``oddness``: how far its pixels are
    from what is usual in its class, 1 is the limit; ``like``: code of the other class that most of
    its pixels look like, ``like_share`` the share of those that look like another one."""

    id: int
    title: str
    n_pixels: int
    spread: float | None
    oddness: float | None
    like: int | None
    like_share: float
    n_odd: int


class AdviceOut(BaseModel):
    """A sentence and the acts that answer it, on sites (the most doubtful first) or a class
    (codes)."""

    sentence: str
    acts: list[Act]
    site_ids: list[Id]
    code: int | None
    other_code: int | None


class JudgementOut(BaseModel):
    """Of the training of this ``version``; sites in doubt first."""

    version: str
    sites: list[JudgedSiteOut]
    advice: list[AdviceOut]


class OddPixelsOut(BaseModel):
    geometry: dict[str, Any] | None
    n_pixels: int


class SiteActs(In):
    """``class_id``: to move or copy to; ``line``: corners in the study's CRS, to cut along;
    ``scene_id`` and ``roles``: whose pixels are meant."""

    act: SiteAct
    site_ids: list[Id] = Field(min_length=1, max_length=MOST_SITES)
    scene_id: Id
    roles: list[str] = Field(default_factory=list, max_length=64)
    class_id: Id | None = None
    line: list[tuple[FiniteFloat, FiniteFloat]] = Field(default_factory=list, max_length=1000)


class ActedOut(BaseModel):
    """The sites that were changed or added."""

    site_ids: list[int]


class SetAside(In):
    share: float = Field(0.2, gt=0, lt=1)
    seed: int = Field(0, ge=0, le=2**31 - 1)


class IntervalOut(BaseModel):
    """A mean over folds with its 95 % limits."""

    mean: float | None
    low: float | None
    high: float | None


class CheckedClassOut(BaseModel):
    """``back``: share of its training pixels told right by what they trained; ``folds``: by what
    was trained without them; not ``tested``: it has one site, or too few pixels."""

    code: int
    back: float | None
    folds: IntervalOut
    tested: bool


class ToldOut(BaseModel):
    """Pixels by class as drawn (rows) and as told (columns, the last: unclassified)."""

    counts: list[list[int]]
    mean_right: float | None


class CurvePointOut(BaseModel):
    n_sites: int
    right: float
    deviation: float


class FirstCheckOut(BaseModel):
    """``overall``: mean over the classes. ``aside``: of sites that never train."""

    version: str
    codes: list[int]
    classes: list[CheckedClassOut]
    overall: IntervalOut
    n_folds: int
    by_folds: ToldOut
    aside: ToldOut | None
    curve: list[CurvePointOut]
    curve_words: str


class GrownOut(BaseModel):
    """``limited``: with the threshold that was asked for there would be too many pixels;
    ``threshold`` is the one they were grown with."""

    geometry: dict[str, Any]
    n_pixels: int
    threshold: float
    limited: bool


class PaintIn(In):
    """``geometry``: the outline as it is, null for none yet; ``places``: in the study's coordinate
    system; ``on``: their pixels are added, else taken out."""

    scene_id: Id
    geometry: dict[str, Any] | None = None
    places: list[tuple[FiniteFloat, FiniteFloat]] = Field(min_length=1, max_length=20_000)
    on: bool = True


class Painted(BaseModel):
    """Null where no pixel is left."""

    geometry: dict[str, Any] | None


class NextPlaceOut(BaseModel):
    """A place in the study's coordinate system, and why another site there would teach most."""

    x: float
    y: float
    reason: str
    codes: tuple[int, int]
    strange: bool


class GroupStatisticsOut(BaseModel):
    """Of the pixels of a class or site, per band in the order of the roles; covariances by n - 1,
    a correlation with a band that does not vary is null."""

    code: int
    n_pixels: int
    mean: list[float]
    standard_deviation: list[float]
    minimum: list[float]
    maximum: list[float]
    covariance: list[list[float]]
    correlation: list[list[float | None]]


class ClassStatisticsOut(BaseModel):
    roles: list[str]
    groups: list[GroupStatisticsOut]


class CarriedSiteOut(BaseModel):
    """A site in another scene; ``changed``: its cover seems to be another one there; means per
    band, in the order of the roles."""

    id: int
    title: str
    changed: bool
    oddness: float | None
    like: int | None
    like_share: float
    mean_here: list[float]
    mean_there: list[float]


class CarriedOut(BaseModel):
    """``grids``: where they differ, in words; ``lost``: ids of sites without pixels there."""

    scene_id: int
    grids: list[str]
    sites: list[CarriedSiteOut]
    lost: list[int]
