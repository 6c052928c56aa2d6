"""Colours for new classes: by what their names say, and apart from those that are there.

Colours are ours, after what the covers look like on a map; the default palette is Paul Tol's
"muted", safe for colour-blind readers (SRON technical note SRON/EPS/TN/09-002, from memory).
"""

import re
from collections.abc import Iterable

import numpy as np
import numpy.typing as npt

from kitesort.core.newest import remembered

MUTED = (
    "#332288", "#88ccee", "#44aa99", "#117733", "#999933", "#ddcc77", "#cc6677", "#882255",
    "#aa4499",
)  # fmt: skip
# Words of the trade, the more special ones first, with shades to choose from.
COVERS: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = (
    (("salt marsh", "saltmarsh", "marsh", "fen", "swamp", "mangrove"), ("#44aa99", "#2f7f86")),
    (("mud", "silt", "tidal flat", "mudflat"), ("#a39382", "#7d6f63")),
    (("snow", "ice", "glacier"), ("#e3eef5", "#bcd3e0")),
    (("burn", "burnt", "fire"), ("#3b2b2b", "#6b2f2f")),
    (("conifer", "pine", "spruce", "fir", "evergreen"), ("#0b5a3c", "#117733")),
    (("wood", "forest", "tree", "deciduous", "broadleaf"), ("#117733", "#4d9a4a")),
    (("scrub", "shrub", "heath", "moor"), ("#7a7a2e", "#999933")),
    (("reed",), ("#999933", "#b8b04a")),
    (("rice", "paddy"), ("#6fb7a2", "#88ccee")),
    (("orchard", "vine", "olive", "plantation"), ("#aa4499", "#8a6bb0")),
    (("grass", "pasture", "meadow", "lawn"), ("#77b255", "#a6cf6d")),
    (("crop", "arable", "barley", "wheat", "maize", "field", "stubble", "cereal"),
     ("#ddcc77", "#e8a94a")),
    (("bare", "soil", "fallow", "earth"), ("#b5804b", "#8c5a34")),
    (("sand", "beach", "dune"), ("#f0dfa8", "#e0c070")),
    (("shingle", "gravel", "rock", "stone", "quarry", "scree"), ("#c9c2b4", "#8f8a80")),
    (("built", "urban", "town", "roof", "house", "settlement", "industry"), ("#cc6677", "#882255")),
    (("road", "asphalt", "concrete", "pavement", "rail"), ("#6e6a78", "#4c4858")),
    (("sea", "ocean", "deep water"), ("#332288", "#24407f")),
    (("river", "lake", "pond", "canal", "water"), ("#3b6fb6", "#88ccee", "#332288")),
    (("cloud",), ("#f2f2f2", "#d8d8d8")),
    (("shadow",), ("#50525a", "#2f3036")),
)  # fmt: skip
LEAST_APART = 8.0  # CIEDE2000, in normal sight and in both common kinds of colour blindness
# Linear light as it is seen without one kind of cones. Source: Machado, Oliveira, Fernandes 2009,
# IEEE Transactions on Visualization and Computer Graphics 15:1291-1298, severity 1 (from memory).
SIGHTS: tuple[npt.NDArray[np.float64], ...] = (
    np.eye(3),
    np.array([[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216],
              [-0.003882, -0.048116, 1.051998]]),
    np.array([[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413],
              [-0.011820, 0.042940, 0.968881]]),
)  # fmt: skip


def suggest_colour(name: str, taken: Iterable[str]) -> str:
    """A colour for a class: one that its name suggests, if that is apart from those taken for every
    reader; else of the default palette the one that lies furthest from them."""
    others = list(taken)
    for colour in (*_suggested(name), *MUTED):
        if colour not in others and apartness(colour, others) >= LEAST_APART:
            return colour
    return max(MUTED, key=lambda colour: apartness(colour, others))


def most_apart(candidates: Iterable[str], taken: Iterable[str], n: int) -> list[str]:
    """So many of the candidates, each as far as may be from those taken and chosen before."""
    left, others = list(dict.fromkeys(candidates)), list(taken)
    chosen = []
    for _ in range(min(n, len(left))):
        best = max(left, key=lambda colour: apartness(colour, others))
        left.remove(best)
        others.append(best)
        chosen.append(best)
    return chosen


def apartness(colour: str, others: Iterable[str]) -> float:
    """The least distance to the others, CIEDE2000, in the sight in which it is least."""
    from skimage.color import deltaE_ciede2000  # slow to import, seldom needed

    seen = [_lab(other) for other in others]
    if not seen:
        return float("inf")
    return float(deltaE_ciede2000(_lab(colour)[None], np.stack(seen)).min())


def _suggested(name: str) -> tuple[str, ...]:
    text = " ".join(re.findall(r"[a-z]+", name.casefold()))
    for words, shades in COVERS:
        if any(re.search(rf"\b{word}", text) for word in words):
            return shades
    return ()


@remembered(2048)
def _lab(colour: str) -> npt.NDArray[np.float64]:
    """As it is seen in each sight (sights, 3)."""
    from skimage.color import rgb2lab

    rgb = np.array([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    seen = np.clip(np.stack([sight @ linear for sight in SIGHTS]), 0, 1)
    encoded = np.where(seen <= 0.0031308, 12.92 * seen, 1.055 * seen ** (1 / 2.4) - 0.055)
    return np.asarray(rgb2lab(encoded))
