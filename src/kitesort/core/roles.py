"""Roles in words, the wavelengths that are usual for them, and what was probably meant.

The ranges are those of ``bands``; words and other names are the trade's (from memory).
"""

import difflib
import re

from kitesort.core.bands import RANGES_UM, Role

TITLES: dict[Role, str] = {
    Role.COASTAL: "coastal blue",
    Role.BLUE: "blue",
    Role.GREEN: "green",
    Role.YELLOW: "yellow",
    Role.RED: "red",
    Role.REDEDGE: "red edge",
    Role.REDEDGE071: "red edge, first",
    Role.REDEDGE075: "red edge, second",
    Role.REDEDGE078: "red edge, third",
    Role.NIR: "near infrared",
    Role.NIR08: "near infrared, narrow",
    Role.NIR09: "near infrared, water vapour",
    Role.CIRRUS: "short-wave infrared, thin high cloud",
    Role.SWIR16: "short-wave infrared",
    Role.SWIR22: "short-wave infrared, longer",
    Role.PAN: "panchromatic",
    Role.LWIR: "thermal infrared",
    Role.LWIR11: "thermal infrared, shorter",
    Role.LWIR12: "thermal infrared, longer",
}
OTHER_NAMES: dict[str, Role] = {
    "b": Role.BLUE, "g": Role.GREEN, "r": Role.RED, "aerosol": Role.COASTAL,
    "deepblue": Role.COASTAL, "nearinfrared": Role.NIR, "infrared": Role.NIR, "ir": Role.NIR,
    "nir1": Role.NIR,
    "narrownir": Role.NIR08, "nir2": Role.NIR08, "watervapour": Role.NIR09,
    "watervapor": Role.NIR09, "re": Role.REDEDGE, "re1": Role.REDEDGE071, "re2": Role.REDEDGE075,
    "re3": Role.REDEDGE078,
    "rededge1": Role.REDEDGE071, "rededge2": Role.REDEDGE075, "rededge3": Role.REDEDGE078,
    "mir": Role.SWIR16, "swir": Role.SWIR16, "swir1": Role.SWIR16, "swir2": Role.SWIR22,
    "shortwave": Role.SWIR16, "shortwave1": Role.SWIR16, "shortwave2": Role.SWIR22,
    "panchromatic": Role.PAN, "thermal": Role.LWIR, "tir": Role.LWIR, "tir1": Role.LWIR11,
    "tir2": Role.LWIR12, "thermal1": Role.LWIR11, "thermal2": Role.LWIR12,
}  # fmt: skip
LEAST_LIKENESS = 0.6


def usual_wavelength(role: str) -> float | None:
    """Centre of a role's range, in micrometres; None for a role of the analyst's own."""
    return round(sum(RANGES_UM[Role(role)]) / 2, 3) if role in set(Role) else None


def nearest_role(text: str) -> Role | None:
    """The known role that a word probably means: by another name of it, else by its letters; None
    where none is like it."""
    word = re.sub(r"[^a-z0-9]", "", text.casefold())
    if word in OTHER_NAMES:
        return OTHER_NAMES[word]
    by_title = {re.sub(r"[^a-z0-9]", "", title): role for role, title in TITLES.items()}
    known = {role.value: role for role in Role} | by_title
    close = difflib.get_close_matches(word, known, n=1, cutoff=LEAST_LIKENESS)
    return known[close[0]] if close else None
