"""Published palettes for one layer: evenly perceived, some safe for colour-blind readers.

Source: Kovesi 2015, Good Colour Maps: How to Design Them, arXiv:1509.03700; the values come with
the package ``colorcet`` under CC-BY.
"""

from dataclasses import dataclass

import colorcet
import numpy as np
import numpy.typing as npt

from kitesort.core.errors import NotFoundError
from kitesort.core.newest import remembered

LEVELS = 256
SOURCE = "Kovesi 2015, arXiv:1509.03700"


@dataclass(frozen=True)
class Palette:
    """``key``: its name in the publication. ``diverging``: two hues from a neutral middle."""

    id: str
    title: str
    key: str
    note: str
    diverging: bool = False


PALETTES: tuple[Palette, ...] = (
    Palette("grey", "Grey", "linear_grey_0_100_c0", "Black to white."),
    Palette("green", "Dark to light green", "linear_green_5_95_c69", "For amounts of vegetation."),
    Palette(
        "blue-yellow",
        "Blue to yellow",
        "linear_protanopic_deuteranopic_kbjyw_5_95_c25",
        "Safe for red-green colour-blind readers.",
    ),
    Palette("blue-pink-yellow", "Blue, pink, yellow", "linear_bmy_10_95_c71", "Strong contrast."),
    Palette("blue-green-yellow", "Blue, green, yellow", "linear_bgy_10_95_c74", "Calm."),
    Palette("heat", "Black, red, yellow, white", "linear_kryw_0_100_c71", "For heat and burning."),
    Palette("white-orange-red", "White, orange, red", "linear_wyor_100_45_c55", "On a pale page."),
    Palette("white-blue", "Pale to blue", "linear_blue_95_50_c20", "For water and wetness."),
    Palette(
        "green-white-violet",
        "Green, white, violet",
        "diverging_gwv_55_95_c39",
        "Below and above a middle.",
        diverging=True,
    ),
    Palette(
        "blue-white-red",
        "Blue, white, red",
        "diverging_bwr_40_95_c42",
        "Below and above a middle.",
        diverging=True,
    ),
    Palette(
        "blue-white-yellow",
        "Blue, white, yellow",
        "diverging_protanopic_deuteranopic_bwy_60_95_c32",
        "Below and above a middle; safe for red-green colour-blind readers.",
        diverging=True,
    ),
    Palette(
        "rainbow",
        "Rainbow",
        "rainbow_bgyr_35_85_c73",
        "Many hues; tells places apart, not amounts.",
    ),
)
_BY_ID = {palette.id: palette for palette in PALETTES}


@remembered(64)
def palette_table(
    palette_id: str, *, is_reversed: bool = False, n_steps: int | None = None
) -> npt.NDArray[np.uint8]:
    """Colours (256, 3) by display level; in ``n_steps`` even steps, or continuous when None.

    Raises
    ------
    NotFoundError
    """
    if palette_id not in _BY_ID:
        raise NotFoundError(f"There is no palette “{palette_id}”. Known: {', '.join(_BY_ID)}.")
    colours = colorcet.palette[_BY_ID[palette_id].key]
    table = np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], np.uint8)
    if is_reversed:
        table = table[::-1]
    if n_steps is not None:
        step = np.arange(LEVELS) * n_steps // LEVELS
        table = table[np.rint(step * (LEVELS - 1) / max(n_steps - 1, 1)).astype(int)]
    table = np.ascontiguousarray(table)
    table.flags.writeable = False
    return table


def palette_stops(palette_id: str, n: int = 17) -> list[str]:
    """Evenly spaced colours as ``#rrggbb``, first to last."""
    table = palette_table(palette_id)
    at = np.rint(np.linspace(0, LEVELS - 1, n)).astype(int)
    return [f"#{r:02x}{g:02x}{b:02x}" for r, g, b in table[at].tolist()]
