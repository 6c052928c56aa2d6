"""Shapes of files with training sites."""

from pydantic import BaseModel, Field

from kitesort.api.schemas import Id, In
from kitesort.core.legend import MOST_CLASSES, ClassCode
from kitesort.core.names import Name

Text = Field(None, max_length=4000)


class GroundFileOut(BaseModel):
    token: str
    name: str


class GroundIn(In):
    """A kept file by its ``token``; ``crs``, the columns of a table that hold the place, and the
    attribute that tells the class: as found where nothing is said."""

    token: str = Field(max_length=80)
    name: str = Field(min_length=1, max_length=200)
    scene_id: Id
    crs: str | None = Text
    x: str | None = Text
    y: str | None = Text
    attribute: str | None = Text


class WantedClassIn(In):
    """The class that a value stands for: one of the study, or a new one."""

    class_id: Id | None = None
    name: Name = Field("", max_length=80)
    code: ClassCode | None = None
    colour: str | None = Field(None, max_length=7)


class GroundTake(GroundIn):
    """``wanted``: by value; values that are not named are left out."""

    wanted: dict[str, WantedClassIn] = Field(max_length=MOST_CLASSES)


class GroundColumnOut(BaseModel):
    name: str
    n_different: int
    examples: list[str]


class GroundValueOut(BaseModel):
    """What an attribute says, how often, and what it most likely stands for."""

    value: str
    n_sites: int
    class_id: Id | None
    name: str
    code: int | None
    colour: str | None


class LeftOutOut(BaseModel):
    reason: str
    n: int


class GroundOut(BaseModel):
    """Without ``crs``, or for a table without ``x`` and ``y``, there are no sites yet.
    ``left_out``: features that are not taken; ``values``: at most 254 of ``n_values``."""

    columns: list[GroundColumnOut]
    is_table: bool
    x: str | None
    y: str | None
    crs: str | None
    crs_name: str | None
    attribute: str | None
    n_features: int
    n_sites: int
    n_mended: int
    left_out: list[LeftOutOut]
    n_values: int
    values: list[GroundValueOut]
