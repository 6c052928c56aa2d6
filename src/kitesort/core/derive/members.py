"""What the members of a stack have to do with one another: ranges, correlation, near-duplicates."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import NoValidPixelsError
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.sample import sample_pixels

NEAR_DUPLICATE = 0.98
UNEVEN_RANGE = 100.0


@dataclass(frozen=True)
class MemberRange:
    role: str
    minimum: float
    maximum: float
    mean: float
    standard_deviation: float


@dataclass(frozen=True)
class Relations:
    """Of native pixels, all or spread evenly, that are valid in all members; ``correlation``
    (members, members), not a number beside a constant member. ``remarks`` in sentences."""

    members: list[MemberRange]
    correlation: npt.NDArray[np.float64]
    n_valid: int
    remarks: list[str]


def relate_members(raster: Raster) -> Relations:
    """Raises NoValidPixelsError when no pixel is valid in all members."""
    names = roles_of(raster)
    values = sample_pixels(raster).values.astype(np.float64)
    if values.shape[1] == 0:
        raise NoValidPixelsError("No pixel has data in all of these layers at once.")
    deviation = values.std(axis=1, ddof=1) if values.shape[1] > 1 else np.zeros(len(names))
    centred = values - values.mean(axis=1, keepdims=True)
    scatter = centred @ centred.T
    norms = np.sqrt(np.diag(scatter))
    with np.errstate(invalid="ignore", divide="ignore"):
        correlation = scatter / np.outer(norms, norms)
    members = [
        MemberRange(name, float(v.min()), float(v.max()), float(v.mean()), float(d))
        for name, v, d in zip(names, values, deviation, strict=True)
    ]
    remarks = _remarks(names, correlation, deviation)
    return Relations(members, correlation, values.shape[1], remarks)


def _remarks(
    names: tuple[str, ...],
    correlation: npt.NDArray[np.float64],
    deviation: npt.NDArray[np.float64],
) -> list[str]:
    remarks = [
        f"{name} is the same everywhere and tells nothing apart."
        for name, d in zip(names, deviation, strict=True)
        if d == 0
    ]
    pairs = [(i, j) for i in range(len(names)) for j in range(i + 1, len(names))]
    alike = [(i, j) for i, j in pairs if abs(correlation[i, j]) >= NEAR_DUPLICATE]
    for i, j in sorted(alike, key=lambda pair: -abs(correlation[pair]))[:6]:
        remarks.append(
            f"{names[i]} and {names[j]} say nearly the same (correlation "
            f"{correlation[i, j]:.3f}); one of them may be left out."
        )
    spread = deviation[deviation > 0]
    if spread.size > 1 and spread.max() / spread.min() > UNEVEN_RANGE:
        wide, narrow = names[int(deviation.argmax())], names[int(np.argmin(
            np.where(deviation > 0, deviation, np.inf)))]  # fmt: skip
        remarks.append(
            f"{wide} varies {spread.max() / spread.min():,.0f} times as much as {narrow}: methods "
            "that go by distance see little else; maximum likelihood does not mind."
        )
    return remarks
