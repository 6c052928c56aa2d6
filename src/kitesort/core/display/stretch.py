"""Contrast stretch: which values become black, which white, and what lies between."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Self

import numpy as np
import numpy.typing as npt
from pydantic import Field, model_validator

from kitesort.core.errors import BadSettingsError
from kitesort.core.settings import Settings

LEVELS = 256
Floats = npt.NDArray[np.float32]
StretchKind = Literal["percentile", "extremes", "deviations", "equalise", "typed", "none"]


class Stretch(Settings):
    """How values become display levels.

    ``shared``: all channels get the same limits (the lowest low and the highest high of them),
    so that their brightness can be compared.
    """

    kind: StretchKind = "percentile"
    low: float = Field(2.0, ge=0, le=100, description="Percent of the values below black.")
    high: float = Field(98.0, ge=0, le=100, description="Percent of the values below white.")
    deviations: float = Field(2.0, gt=0, le=10, description="Standard deviations on either side.")
    limits: tuple[tuple[float, float], ...] = ()
    shared: bool = False

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.kind == "percentile" and not self.low < self.high:
            raise BadSettingsError(
                f"A stretch from {self.low:g} to {self.high:g} % cannot be shown; "
                "the low end must be below the high end, both between 0 and 100."
            )
        if self.kind == "typed" and not all(
            np.isfinite([a, b]).all() and a < b for a, b in self.limits
        ):
            raise BadSettingsError("Of each pair of limits, the low one must be the smaller.")
        return self


@dataclass(frozen=True)
class Limits:
    """Values shown as black and as white."""

    low: float
    high: float


@dataclass(frozen=True)
class Curve:
    """Display level (0 to 1) over value: straight between its points, flat beyond them."""

    values: tuple[float, ...]
    levels: tuple[float, ...]

    @property
    def limits(self) -> Limits:
        return Limits(self.values[0], self.values[-1])


def make_curves(
    samples: Sequence[Floats], stretch: Stretch, natural: Limits = Limits(0.0, 1.0)
) -> list[Curve]:
    """One curve per channel, from a sample of valid values of each.

    ``natural``: what "none" shows as black and white.

    Raises
    ------
    BadSettingsError : typed limits for another number of channels.
    """
    if stretch.kind == "typed" and len(stretch.limits) != len(samples):
        raise BadSettingsError(f"Give limits for each of the {len(samples)} channels.")
    if stretch.kind == "equalise":
        merged = [np.concatenate(samples)] * len(samples) if stretch.shared else samples
        return [_equalising(values) for values in merged]
    if stretch.kind == "typed":
        limits = [Limits(*pair) for pair in stretch.limits]
    else:
        limits = [_limits_of(values, stretch, natural) for values in samples]
    if stretch.shared:
        limits = [Limits(min(lim.low for lim in limits), max(lim.high for lim in limits))] * len(
            samples
        )
    return [Curve((lim.low, lim.high), (0.0, 1.0)) for lim in limits]


def _limits_of(values: Floats, stretch: Stretch, natural: Limits) -> Limits:
    if stretch.kind == "none":
        return natural
    if values.size == 0:
        return Limits(0.0, 1.0)
    if stretch.kind == "deviations":
        mean, spread = float(values.mean(dtype=np.float64)), float(values.std(dtype=np.float64))
        reach = stretch.deviations * spread
        return _apart(mean - reach, mean + reach)
    low, high = (0.0, 100.0) if stretch.kind == "extremes" else (stretch.low, stretch.high)
    bottom, top = (float(v) for v in np.percentile(values, [low, high]))
    return _apart(bottom, top)


def _apart(bottom: float, top: float) -> Limits:
    return Limits(bottom, top) if top > bottom else _around(bottom)


def _around(value: float) -> Limits:
    """A band with one value gets limits around it, so that it shows as mid-grey: half a unit to
    each side, or more where numbers are so large that this is nothing."""
    half = max(0.5, abs(value) * 1e-3)
    return Limits(value - half, value + half)


def _equalising(values: Floats) -> Curve:
    """Each level holds about as many pixels as any other.

    Source: Gonzalez & Woods, Digital Image Processing, section on histogram equalisation (from
    memory): the level is the cumulative share of pixels.
    """
    if values.size == 0 or values.min() == values.max():
        around = _around(float(values[0]) if values.size else 0.5)
        return Curve((around.low, around.high), (0.0, 1.0))
    shares = np.linspace(0, 1, LEVELS + 1)
    steps = np.quantile(values, shares)
    unique, first = np.unique(steps, return_index=True)
    # Where many pixels share a value, its level is the middle of the shares that they take up.
    last = np.append(first[1:], len(steps)) - 1
    levels = (shares[first] + shares[last]) / 2
    levels[0], levels[-1] = 0.0, 1.0
    return Curve(tuple(unique.tolist()), tuple(levels.tolist()))


def cut_shares(values: Floats, limits: Limits) -> tuple[float, float]:
    """Percent of the values that lie below black and above white."""
    if values.size == 0:
        return 0.0, 0.0
    below, above = (values < limits.low).mean(), (values > limits.high).mean()
    return float(100 * below), float(100 * above)


def apply_curves(values: Floats, curves: Sequence[Curve]) -> npt.NDArray[np.uint8]:
    """Display levels 0 to 255 of values (band, row, col), one curve per band."""
    levels = np.empty(values.shape, np.float32)
    for band, (plane, curve) in enumerate(zip(values, curves, strict=True)):
        if len(curve.values) == 2:
            low, high = curve.values
            levels[band] = (plane - np.float32(low)) * np.float32((LEVELS - 1) / (high - low))
        else:
            levels[band] = np.interp(plane, curve.values, curve.levels) * (LEVELS - 1)
    return np.clip(np.nan_to_num(levels) + 0.5, 0, LEVELS - 1).astype(np.uint8)
