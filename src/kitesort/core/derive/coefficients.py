"""Coefficient sets of the tasseled cap: the published ones, and tables that are typed or pasted."""

import re
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from pydantic import Field, field_validator, model_validator

from kitesort.core.delivery.scene import ROLE_PATTERN
from kitesort.core.errors import BadSettingsError, NotFoundError
from kitesort.core.settings import Settings, describe_invalid

MAX_TABLE_CHARACTERS = 20_000
LENGTH_TOLERANCE = 0.01
COSINE_TOLERANCE = 0.05
_SIX = ("blue", "green", "red", "nir", "swir16", "swir22")


class Weight(Settings):
    role: str = Field(pattern=f"^{ROLE_PATTERN.pattern}$")
    value: float = Field(ge=-1000, le=1000, allow_inf_nan=False)


class Component(Settings):
    """A weighted sum of bands under a name."""

    name: str = Field(pattern=f"^{ROLE_PATTERN.pattern}$")
    weights: tuple[Weight, ...] = Field(min_length=1, max_length=64)

    @field_validator("weights")
    @classmethod
    def _each_role_once(cls, weights: tuple[Weight, ...]) -> tuple[Weight, ...]:
        roles = [weight.role for weight in weights]
        if len(set(roles)) < len(roles):
            raise ValueError("a role is given twice")
        return weights


class CoefficientTable(Settings):
    """Components in order; the same roles in each."""

    components: tuple[Component, ...] = Field(min_length=1, max_length=16)

    @model_validator(mode="after")
    def _names_once_and_same_roles(self) -> "CoefficientTable":
        names = [component.name for component in self.components]
        if len(set(names)) < len(names):
            raise ValueError("a component is named twice")
        if len({frozenset(w.role for w in c.weights) for c in self.components}) > 1:
            raise ValueError("every component needs the same roles")
        return self

    @property
    def roles(self) -> tuple[str, ...]:
        return tuple(weight.role for weight in self.components[0].weights)

    @property
    def matrix(self) -> list[list[float]]:
        """Rows are components, columns roles in order of the first component."""
        by_role = [{w.role: w.value for w in c.weights} for c in self.components]
        return [[row[role] for role in self.roles] for row in by_role]


@dataclass(frozen=True)
class PublishedSet:
    """``sensors``: what the name of a scene's sensor begins with if the set is meant for it."""

    id: str
    title: str
    source: str
    sensors: tuple[str, ...]
    table: CoefficientTable


def _table(**rows: tuple[float, ...]) -> CoefficientTable:
    return CoefficientTable(
        components=tuple(
            Component(
                name=name,
                weights=tuple(
                    Weight(role=role, value=v) for role, v in zip(_SIX, row, strict=True)
                ),
            )
            for name, row in rows.items()
        )
    )


# fmt: off
PUBLISHED_SETS: tuple[PublishedSet, ...] = (
    PublishedSet(
        "oli-2014", "Landsat 8 and 9 OLI, reflectance",
        "Baig et al. 2014, Remote Sensing Letters 5:423-431",
        ("landsat 8", "landsat 9"),
        _table(
            brightness=(.3029, .2786, .4733, .5599, .508, .1872),
            greenness=(-.2941, -.243, -.5424, .7276, .0713, -.1608),
            wetness=(.1511, .1973, .3283, .3407, -.7117, -.4559),
        ),
    ),
    PublishedSet(
        "etm-2002", "Landsat 7 ETM+, reflectance at satellite",
        "Huang et al. 2002, International Journal of Remote Sensing 23:1741-1748",
        ("landsat 7",),
        _table(
            brightness=(.3561, .3972, .3904, .6966, .2286, .1596),
            greenness=(-.3344, -.3544, -.4556, .6966, -.0242, -.2630),
            wetness=(.2626, .2141, .0926, .0656, -.7629, -.5388),
        ),
    ),
    PublishedSet(
        "tm-1985", "Landsat 4 and 5 TM, reflectance factors",
        "Crist 1985, Remote Sensing of Environment 17:301-306",
        ("landsat 4", "landsat 5"),
        _table(
            brightness=(.2043, .4158, .5524, .5741, .3124, .2303),
            greenness=(-.1603, -.2819, -.4934, .7940, -.0002, -.1446),
            wetness=(.0315, .2021, .3102, .1594, -.6806, -.6109),
        ),
    ),
)
# fmt: on


def get_published(set_id: str) -> PublishedSet:
    """Raises NotFoundError."""
    for one in PUBLISHED_SETS:
        if one.id == set_id:
            return one
    raise NotFoundError(f"There is no published set of coefficients called “{set_id}”.")


def published_for(sensor: str | None) -> PublishedSet | None:
    """The set that was published for a sensor."""
    return next((one for one in PUBLISHED_SETS if is_meant_for(one, sensor)), None)


def is_meant_for(one: PublishedSet, sensor: str | None) -> bool:
    name = (sensor or "").lower().replace("-", " ")
    return name.startswith(one.sensors)


def find_remarks(table: CoefficientTable) -> list[str]:
    """What is unusual about a set, in sentences: lengths that are not 1, pairs that are not at
    right angles. Published sets are rounded, and nearly so."""
    rows = np.array(table.matrix)
    lengths = np.linalg.norm(rows, axis=1)
    names = [component.name for component in table.components]
    remarks = [
        f"{name} has the length {length:.3f}, not 1: look for a mistyped number."
        for name, length in zip(names, lengths, strict=True)
        if abs(length - 1) > LENGTH_TOLERANCE
    ]
    for i, j in combinations(range(len(names)), 2):
        if lengths[i] == 0 or lengths[j] == 0:
            continue
        cosine = float(rows[i] @ rows[j] / (lengths[i] * lengths[j]))
        if abs(cosine) > COSINE_TOLERANCE:
            remarks.append(
                f"{names[i]} and {names[j]} are not at right angles (cosine {cosine:.2f})."
            )
    return remarks


def parse_table(text: str) -> CoefficientTable:
    """A pasted table: the roles in the first row, then one component per row, its name first.
    Columns stand apart by tabs, semicolons, commas or spaces; without names in front, the
    components are called c1, c2 and so on.

    Raises
    ------
    BadSettingsError : with the row that cannot be read.
    """
    if len(text) > MAX_TABLE_CHARACTERS:
        raise BadSettingsError("The table is too long to be one of coefficients.")
    lines = [line for line in text.splitlines() if line.strip()]
    if len(lines) < 2:
        raise BadSettingsError(
            "Paste a table: the roles in the first row, below it one row per component."
        )
    head, *rows = [_split(line, lines[0]) for line in lines]
    named = not _is_number(rows[0][0])
    width = len(rows[0]) - named
    roles = [role.lower() for role in head[len(head) - width :]]  # over the names stands anything
    if not named:
        rows = [[f"c{i}", *row] for i, row in enumerate(rows, 1)]
    components = [_component(row, roles, i) for i, row in enumerate(rows, 2)]
    try:
        return CoefficientTable(components=tuple(components))
    except ValueError as error:
        raise BadSettingsError(f"The table cannot be used: {describe_invalid(error)}") from error


def _split(line: str, head: str) -> list[str]:
    separator = next((s for s in ("\t", ";", ",") if s in head), None)
    cells = line.split(separator) if separator else line.split()
    return [cell.strip() for cell in cells]


def _is_number(cell: str) -> bool:
    return re.fullmatch(r"[-+−]?(\d+[.,]?\d*|[.,]\d+)(e[-+]?\d+)?", cell, re.IGNORECASE) is not None


def _component(row: list[str], roles: list[str], line: int) -> Component:
    name, *numbers = row
    if len(numbers) != len(roles):
        raise BadSettingsError(
            f"Row {line} has {len(numbers)} numbers for {len(roles)} roles: {', '.join(roles)}."
        )
    wrong = next((n for n in numbers if not _is_number(n)), None)
    if wrong is not None:
        raise BadSettingsError(f"Row {line}: “{wrong[:40]}” is no number.")
    values = [float(n.replace(",", ".").replace("−", "-")) for n in numbers]
    slug = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")
    odd = next((word for word in (*roles, slug) if not ROLE_PATTERN.fullmatch(word)), None)
    if odd is not None:
        raise BadSettingsError(
            f"Row {line}: “{odd[:40]}” cannot be a name; those are small letters, digits and _."
        )
    try:
        weights = tuple(Weight(role=r, value=v) for r, v in zip(roles, values, strict=True))
        return Component(name=slug, weights=weights)
    except ValueError as error:
        raise BadSettingsError(f"Row {line}: {describe_invalid(error)}") from error
