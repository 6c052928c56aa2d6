"""How right a class map is, as the API tells it."""

from pydantic import BaseModel


class ProportionOut(BaseModel):
    value: float | None
    low: float | None
    high: float | None


class PointOut(BaseModel):
    id: int
    x: float
    y: float
    reference_code: int
    mapped_code: int


class ReferencePointOut(BaseModel):
    id: int
    x: float
    y: float
    class_code: int


class AccuracyOut(BaseModel):
    """Rows as mapped, columns as found on the ground; ``codes`` tell them apart, in ``points`` too;
    ``own_codes``: the map's, and the scheme's of a class that the map has not itself."""

    codes: list[int]
    own_codes: list[int]
    names: list[str]
    colours: list[str]
    counts: list[list[int]]
    n_points: int
    n_without_map: int
    unknown: list[str]
    overall: ProportionOut
    producers: list[ProportionOut]
    users: list[ProportionOut]
    kappa: float | None
    points: list[PointOut]
