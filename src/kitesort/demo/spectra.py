"""Reflectance of each cover by season, with its variation inside the cover.

The numbers are made up after common knowledge of such covers' curves; no measured library is used.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.demo.cover import BARLEY, BUILT, CONIFER, MARSH, MUD, PASTURE, REED, SHINGLE, WATER
from kitesort.demo.noise import Field

ROLES = ("coastal", "blue", "green", "red", "rededge", "nir", "swir16", "swir22")
SEASONS = ("spring", "summer", "autumn")


# fmt: off
BASE: dict[int, dict[str, list[float]]] = {
    WATER: {"any": [.060, .066, .066, .040, .024, .014, .006, .004]},
    MUD: {"any": [.075, .085, .105, .122, .132, .142, .105, .070]},
    MARSH: {
        "spring": [.040, .046, .066, .062, .115, .190, .150, .088],
        "summer": [.034, .038, .066, .050, .145, .285, .165, .080],
        "autumn": [.042, .048, .076, .074, .130, .215, .175, .100],
    },
    REED: {
        "spring": [.048, .056, .082, .092, .132, .178, .205, .138],
        "summer": [.030, .034, .070, .044, .165, .345, .150, .062],
        "autumn": [.050, .060, .092, .104, .152, .220, .225, .145],
    },
    PASTURE: {
        "spring": [.030, .036, .076, .042, .180, .400, .190, .082],
        "summer": [.034, .041, .082, .052, .178, .360, .200, .094],
        "autumn": [.032, .038, .074, .046, .170, .350, .185, .085],
    },
    BARLEY: {
        "spring": [.028, .034, .074, .040, .184, .415, .182, .074],
        "summer": [.060, .078, .118, .142, .208, .285, .290, .195],
        "autumn": [.072, .092, .124, .158, .196, .240, .320, .245],
    },
    CONIFER: {"any": [.022, .025, .042, .027, .082, .200, .082, .037]},
    SHINGLE: {"any": [.130, .152, .180, .202, .214, .228, .246, .222]},
    BUILT: {"any": [.126, .148, .174, .196, .208, .220, .268, .285]},
}
# Brightness spread (share), spread towards or away from green vegetation, at four scales.
SPREAD = {
    WATER: (.06, .02), MUD: (.13, .05), MARSH: (.11, .16), REED: (.10, .12), PASTURE: (.055, .09),
    BARLEY: (.06, .10), CONIFER: (.16, .08), SHINGLE: (.10, .01), BUILT: (.24, .04),
}
VIGOUR = np.array([-.006, -.008, -.004, -.018, .010, .075, -.020, -.022], np.float32)
TURBID = np.array([.020, .034, .058, .066, .040, .020, .002, .001], np.float32)
HEDGE = np.array([.022, .025, .042, .030, .095, .230, .105, .048], np.float32)
# fmt: on


def base_table(season: str) -> npt.NDArray[np.float32]:
    """Mean reflectance (10, 8) by cover code for a season."""
    table = np.zeros((10, len(ROLES)), np.float32)
    for code, seasons in BASE.items():
        table[code] = seasons.get(season, seasons.get("any", []))
    return table


@dataclass(frozen=True)
class Texture:
    """Fields (1440, 1920) that vary a cover from within, shared by all bands."""

    fine: Field
    middle: Field
    broad: Field
    vigour: Field


def spread_tables() -> tuple[npt.NDArray[np.float32], npt.NDArray[np.float32]]:
    """Brightness and vigour spread (10,) by cover code."""
    brightness, vigour = np.zeros((2, 10), np.float32)
    for code, (b, v) in SPREAD.items():
        brightness[code], vigour[code] = b, v
    return brightness, vigour
