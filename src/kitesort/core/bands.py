"""Band roles: the ``eo:common_name`` vocabulary of the STAC electro-optical extension.

Source: STAC electro-optical extension v2, table "Common Band Names" (from memory; the ranges
are the extension's, in micrometres).
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Literal

from kitesort.core.grid import Grid
from kitesort.core.legend import Legend


class Role(StrEnum):
    """What a band sees; its position in a file never stands for it."""

    COASTAL = "coastal"
    BLUE = "blue"
    GREEN = "green"
    YELLOW = "yellow"
    RED = "red"
    REDEDGE = "rededge"
    REDEDGE071 = "rededge071"
    REDEDGE075 = "rededge075"
    REDEDGE078 = "rededge078"
    NIR = "nir"
    NIR08 = "nir08"
    NIR09 = "nir09"
    CIRRUS = "cirrus"
    SWIR16 = "swir16"
    SWIR22 = "swir22"
    PAN = "pan"
    LWIR = "lwir"
    LWIR11 = "lwir11"
    LWIR12 = "lwir12"


RANGES_UM: dict[Role, tuple[float, float]] = {
    Role.COASTAL: (0.40, 0.45),
    Role.BLUE: (0.45, 0.53),
    Role.GREEN: (0.51, 0.60),
    Role.YELLOW: (0.58, 0.62),
    Role.RED: (0.62, 0.69),
    Role.REDEDGE: (0.69, 0.79),
    Role.REDEDGE071: (0.69, 0.73),
    Role.REDEDGE075: (0.73, 0.76),
    Role.REDEDGE078: (0.76, 0.80),
    Role.NIR: (0.76, 1.00),
    Role.NIR08: (0.75, 0.90),
    Role.NIR09: (0.85, 1.05),
    Role.CIRRUS: (1.35, 1.40),
    Role.SWIR16: (1.55, 1.75),
    Role.SWIR22: (2.08, 2.35),
    Role.PAN: (0.40, 1.00),
    Role.LWIR: (10.5, 12.5),
    Role.LWIR11: (10.5, 11.5),
    Role.LWIR12: (11.5, 12.5),
}


# Reflectance runs from 0 to 1, radiance is in W/(m² sr µm), temperature in kelvin; numbers are as
# the sensor delivered them; values were computed and have no unit of their own; classes are codes.
MeasuredQuantity = Literal["reflectance", "radiance", "temperature", "numbers", "values"]
Quantity = MeasuredQuantity | Literal["classes"]
SceneQuantity = Quantity | Literal["mixed"]
Kind = Literal["measured", "classes"]
UNITS: dict[Quantity, str] = {"radiance": "W/(m² sr µm)", "temperature": "K"}


@dataclass(frozen=True)
class Band:
    """One band of a raster: role, centre wavelength in micrometres, native pixel size, file; the
    grid it was recorded on, where a stack brought it onto another; and what its values mean: of
    class codes by their legend."""

    role: str
    wavelength_um: float | None = None
    pixel_size: float | None = None
    source: str = ""
    native: Grid | None = None
    quantity: Quantity = "values"
    legend: Legend = ()

    @property
    def kind(self) -> Kind:
        return "classes" if self.quantity == "classes" else "measured"


def with_quantities(bands: Iterable[Band], named: Mapping[str, Quantity]) -> tuple[Band, ...]:
    """The bands, the values of those named by role meaning something else now."""
    return tuple(replace(band, quantity=named.get(band.role, band.quantity)) for band in bands)


def common_quantity(bands: Iterable[Band]) -> SceneQuantity:
    """What all bands mean; a thermal band among others does not count, since it is never what they
    are."""
    kinds = {band.quantity for band in bands}
    if len(kinds) > 1:
        kinds -= {"temperature"}
    return kinds.pop() if len(kinds) == 1 else "mixed"


@dataclass(frozen=True)
class Composite:
    """Three roles for the red, green and blue channels of the screen."""

    id: str
    title: str
    roles: tuple[str, str, str]
    key: str


COMPOSITES: tuple[Composite, ...] = (
    Composite(
        "true-colour",
        "True colour",
        ("red", "green", "blue"),
        "As the eye sees it: water dark, vegetation green, bare ground pale.",
    ),
    Composite(
        "near-infrared",
        "Near infrared",
        ("nir", "red", "green"),
        "Green vegetation red, the denser the deeper; water black to blue; bare ground grey-green.",
    ),
    Composite(
        "red-edge",
        "Red edge",
        ("nir", "rededge", "red"),
        "Crops and grass differ in hue by vigour; water black; bare ground grey.",
    ),
    Composite(
        "narrow-red-edge",
        "Narrow red edge",
        ("nir", "rededge071", "red"),
        "Crops and grass differ in hue by vigour; water black; bare ground grey.",
    ),
    Composite(
        "short-wave",
        "Short wave",
        ("swir16", "nir", "red"),
        "Vegetation green, dry bare ground and stubble pink, wet ground and water dark blue.",
    ),
    Composite(
        "ground-moisture",
        "Ground moisture",
        ("swir22", "swir16", "nir"),
        "Dry stone and roofs orange, green vegetation blue, water and wet mud black.",
    ),
)


def available_composites(roles: set[str]) -> list[Composite]:
    """The named composites whose roles a scene really has."""
    return [c for c in COMPOSITES if roles.issuperset(c.roles)]
