"""Classes by breaks: a table of limits over one layer, checked, and the class map it makes."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import Field, field_validator, model_validator

from kitesort.core.legend import (
    MOST_CLASSES,
    UNCLASSIFIED,
    UNCLASSIFIED_CODE,
    ClassCode,
    CodeArray,
    LegendEntry,
)
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Float32Array, Raster, masked_block
from kitesort.core.settings import Settings

End = Literal["lower", "upper"]


class BreakRow(Settings):
    """A class: values from ``low`` to ``high``; None: without an end on that side."""

    code: ClassCode
    name: str = Field(min_length=1, max_length=80)
    colour: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")
    low: float | None = Field(None, allow_inf_nan=False)
    high: float | None = Field(None, allow_inf_nan=False)

    @field_validator("name")
    @classmethod
    def _strip(cls, name: str) -> str:
        if not name.strip():
            raise ValueError("a class needs a name")
        return name.strip()

    @model_validator(mode="after")
    def _low_below_high(self) -> "BreakRow":
        if self.low is not None and self.high is not None and not self.low < self.high:
            raise ValueError(f"{self.name} ends at {self.high:g}, not above its start {self.low:g}")
        return self


class BreakTable(Settings):
    """Rows by their limits. ``included``: which end of each row belongs to its class.
    ``outer_included``: the last row's other end (the first row's, where the upper end belongs)
    belongs to it as well. What lies in no row stays unclassified; what has no data stays so."""

    rows: tuple[BreakRow, ...] = Field(min_length=1, max_length=MOST_CLASSES)
    included: End = "lower"
    outer_included: bool = True

    @model_validator(mode="after")
    def _codes_names_and_no_overlap(self) -> "BreakTable":
        codes = [row.code for row in self.rows]
        names = [row.name.casefold() for row in self.rows]
        if len(set(codes)) < len(codes) or len(set(names)) < len(names):
            raise ValueError("two classes have the same name or code")
        for below, above in self._neighbours():
            if below.high is None or above.low is None or above.low < below.high:
                raise ValueError(f"{below.name} and {above.name} overlap")
        return self

    def _neighbours(self) -> list[tuple[BreakRow, BreakRow]]:
        ordered = self.ordered
        return list(pairwise(ordered))

    @property
    def ordered(self) -> tuple[BreakRow, ...]:
        """By their lower limits."""
        return tuple(sorted(self.rows, key=lambda row: -np.inf if row.low is None else row.low))

    @property
    def legend(self) -> tuple[LegendEntry, ...]:
        return tuple(LegendEntry(row.code, row.name, row.colour) for row in self.rows)

    @property
    def words(self) -> str:
        return "; ".join(f"{row.name} {self._interval(row)}" for row in self.ordered)

    def _interval(self, row: BreakRow) -> str:
        if row.low is None and row.high is None:
            return "everywhere"
        lower_in, upper_in = self.ends_included(row)
        if row.low is None:
            return f"{'up to' if upper_in else 'below'} {row.high:g}"
        if row.high is None:
            return f"{'from' if lower_in else 'above'} {row.low:g}"
        return (
            f"{'from' if lower_in else 'above'} {row.low:g} "
            f"{'up to' if upper_in else 'to below'} {row.high:g}"
        )

    def ends_included(self, row: BreakRow) -> tuple[bool, bool]:
        first, last = self.ordered[0], self.ordered[-1]
        lower = self.included == "lower" or (self.outer_included and row is first)
        upper = self.included == "upper" or (self.outer_included and row is last)
        return lower, upper

    @property
    def gaps(self) -> list[tuple[float, float]]:
        """Intervals between rows that belong to no class."""
        return [
            (below.high, above.low)
            for below, above in self._neighbours()
            if below.high is not None and above.low is not None and below.high < above.low
        ]


def classify_values(table: BreakTable, values: Float32Array) -> CodeArray:
    """Class codes of values of any shape; 255 (unclassified) where no row holds the value.

    Limits are compared in the values' own precision, so that 0.1 in a file is 0.1 in the table.
    """
    codes = np.full(values.shape, UNCLASSIFIED_CODE, np.uint16)
    for row in table.rows:
        lower_in, upper_in = table.ends_included(row)
        inside = np.ones(values.shape, np.bool_)
        if row.low is not None:
            low = np.float32(row.low)
            inside &= (values >= low) if lower_in else (values > low)
        if row.high is not None:
            high = np.float32(row.high)
            inside &= (values <= high) if upper_in else (values < high)
        codes[inside] = row.code
    return codes


def classify_block(table: BreakTable, block: Block) -> Block:
    """Codes of a block of one band; no data stays no data."""
    codes = classify_values(table, block.values[0])
    return masked_block(codes[None].astype(np.float32), block.valid)


class _Classify:
    """Picklable block function."""

    def __init__(self, table: BreakTable) -> None:
        self._table = table

    def __call__(self, block: Block, _roles: tuple[str, ...]) -> Block:
        return classify_block(self._table, block)


def breaks_raster(source: Raster, role: str, table: BreakTable) -> DerivedRaster:
    """Codes of a table over one band."""
    signature = f"breaks {table.model_dump_json()}"
    bands = class_bands((*table.legend, UNCLASSIFIED))
    return DerivedRaster(source, (role,), bands, _Classify(table), signature)


@dataclass(frozen=True)
class BreakCounts:
    """Pixels of a sample by class code (255: in no class), and remarks in sentences."""

    pixels: dict[int, int]
    n_valid: int
    remarks: list[str]


def count_breaks(table: BreakTable, values: Float32Array) -> BreakCounts:
    """How many values (n,) fall into each class, and what an analyst should know of the rest."""
    codes = classify_values(table, values)
    found, n = np.unique(codes, return_counts=True)
    pixels = {int(code): int(count) for code, count in zip(found, n, strict=True)}
    return BreakCounts(pixels, int(values.size), _remarks(table, values))


def _remarks(table: BreakTable, values: Float32Array) -> list[str]:
    ordered = table.ordered
    remarks = []
    for low, high in table.gaps:
        n = int(((values >= np.float32(low)) & (values <= np.float32(high))).sum())
        remarks.append(f"Between {low:g} and {high:g} is a gap; {_pixels(n)} in or beside it.")
    first, last = ordered[0].low, ordered[-1].high
    if first is not None and (n := int((values < np.float32(first)).sum())):
        remarks.append(f"{_pixels(n)} below {first:g}, the lowest limit, and {_stay(n)}.")
    if last is not None and (n := int((values > np.float32(last)).sum())):
        remarks.append(f"{_pixels(n)} above {last:g}, the highest limit, and {_stay(n)}.")
    outer = last if table.included == "lower" else first
    if outer is not None and not table.outer_included:
        n = int((values == np.float32(outer)).sum())
        if n:
            remarks.append(
                f"{_pixels(n)} exactly at {outer:g}, the end that is left out, and {_stay(n)}."
            )
    return remarks


def _pixels(n: int) -> str:
    return f"{n:,} {'pixel lies' if n == 1 else 'pixels lie'}"


def _stay(n: int) -> str:
    return "stays unclassified" if n == 1 else "stay unclassified"
