"""The published spectral indices, by the roles that they need and what a scene can give them.

Source: the open catalogue carried by the package ``spyndex`` (MIT licence), written into
``indices/published.json`` by ``scripts/take_indices.py``. Every further file in that folder adds
indices of its own; nothing else has to be touched.
"""

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from importlib import resources
from typing import Literal

from pydantic import BaseModel, ConfigDict, TypeAdapter

from kitesort.core.bands import RANGES_UM, Band, Role
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.formula.program import compile_formula
from kitesort.core.derive.formula.tree import Binary, Name, Node, names_in
from kitesort.core.errors import BadSettingsError, MissingRoleError, NotFoundError
from kitesort.core.newest import remembered
from kitesort.core.reference_spectra import REFERENCE_SPECTRA, reflectance_at

Use = Literal["vegetation", "water", "soil", "burn", "built-up", "snow", "cloud"]
# What else may stand for a role that a scene has not; a plain red edge only by its wavelength.
STAND_INS: dict[str, tuple[str, ...]] = {
    "nir": ("nir08",),
    "nir08": ("nir",),
    "lwir": ("lwir11",),
    "rededge071": ("rededge",),
    "rededge075": ("rededge",),
    "rededge078": ("rededge",),
}
# Those that textbooks name first (common practice).
USUAL = ("ndvi", "evi", "savi", "ndwi", "mndwi", "ndmi", "nbr", "ndbi", "bi", "ndsi")
# The usual palette of a layer of one band, by what its index is for.
PALETTES: dict[Use, str] = {
    "vegetation": "green", "water": "white-blue", "soil": "white-orange-red", "burn": "heat",
    "built-up": "heat", "snow": "white-blue", "cloud": "grey",
}  # fmt: skip
OTHER_PALETTE = "blue-green-yellow"
_NAME = re.compile(r"[a-z]\w*", re.ASCII)
_WAVELENGTH = "wavelength_"


class SpectralIndex(BaseModel):
    """``formula`` in roles, constants by name (``constants`` holds their usual values), and
    ``wavelength_`` names, which are centre wavelengths in nanometres."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str
    symbol: str
    title: str
    use: Use
    formula: str
    roles: tuple[str, ...]
    constants: dict[str, float]
    reference: str


@dataclass(frozen=True)
class BoundIndex:
    """An index on the bands of a scene: its formula in the scene's own roles and in numbers, or
    what is missing for it, in words."""

    index: SpectralIndex
    formula: str
    missing: tuple[str, ...]


@remembered(1)
def all_indices() -> dict[str, SpectralIndex]:
    """By id, in the order of their symbols."""
    adapter = TypeAdapter(list[SpectralIndex])
    found: dict[str, SpectralIndex] = {}
    for file in sorted(resources.files(f"{__package__}.indices").iterdir(), key=lambda f: f.name):
        if not file.name.endswith(".json"):
            continue
        for index in adapter.validate_python(json.loads(file.read_text(encoding="utf-8"))):
            if index.id in found:
                raise TypeError(f"{file.name}: the index id {index.id!r} is taken")
            found[index.id] = index
    return dict(sorted(found.items(), key=lambda pair: pair[1].symbol.lower()))


def usual_palette(role: str) -> str:
    """Of a band: by the index that it holds, else one that is calm."""
    index = all_indices().get(role)
    return PALETTES[index.use] if index else OTHER_PALETTE


def get_index(index_id: str) -> SpectralIndex:
    """Raises NotFoundError."""
    try:
        return all_indices()[index_id]
    except KeyError:
        raise NotFoundError(f"There is no index called “{index_id}” in the catalogue.") from None


def bind_index(
    index: SpectralIndex, bands: tuple[Band, ...], constants: Mapping[str, float] | None = None
) -> BoundIndex:
    """The index on bands; ``constants`` replace the usual ones.

    Raises
    ------
    BadSettingsError : a constant that the index does not have.
    """
    changed = dict(constants or {})
    unknown = set(changed) - set(index.constants)
    if unknown:
        raise BadSettingsError(f"{index.symbol} has no constant {', '.join(sorted(unknown))}.")
    given = {role: _band_for(role, bands) for role in index.roles}
    missing = [role for role, band in given.items() if band is None]
    words = {role: band.role for role, band in given.items() if band}
    words |= {name: f"{v:.10g}" for name, v in (index.constants | changed).items()}
    for name in dict.fromkeys(_NAME.findall(index.formula)):
        if name.startswith(_WAVELENGTH):
            role = name.removeprefix(_WAVELENGTH)
            band = given.get(role) or _band_for(role, bands)
            if band is None or band.wavelength_um is None:
                missing.append(f"the wavelength of {role}")
            else:
                words[name] = f"{band.wavelength_um * 1000:.10g}"
    formula = _NAME.sub(lambda m: _in_brackets(words.get(m[0], m[0])), index.formula)
    return BoundIndex(index, formula, tuple(dict.fromkeys(missing)))


def require_bound(
    index: SpectralIndex, bands: tuple[Band, ...], constants: Mapping[str, float] | None = None
) -> BoundIndex:
    """As ``bind_index``.

    Raises
    ------
    MissingRoleError : names what the scene cannot give.
    """
    bound = bind_index(index, bands, constants)
    if bound.missing:
        have = ", ".join(band.role for band in bands)
        raise MissingRoleError(
            f"{index.symbol} needs {', '.join(bound.missing)}, which the scene has not. "
            f"It has {have}."
        )
    return bound


def _band_for(role: str, bands: tuple[Band, ...]) -> Band | None:
    by_role = {band.role: band for band in bands}
    if role in by_role:
        return by_role[role]
    for other in STAND_INS.get(role, ()):
        band = by_role.get(other)
        if band is not None and (other != "rededge" or _sees(band, role)):
            return band
    return None


def _sees(band: Band, role: str) -> bool:
    low, high = RANGES_UM[Role(role)]
    return band.wavelength_um is not None and low <= band.wavelength_um < high


def _in_brackets(word: str) -> str:
    return f"({word})" if word.startswith("-") else word


def known_range(index: SpectralIndex) -> tuple[float, float] | None:
    """-1 to 1 for a normalised difference (a - b) / (a + b); None where no limits are known."""
    match _tree_of(index):
        case Binary(
            operator="/",
            left=Binary(operator="-", left=Name(text=a), right=Name(text=b)),
            right=Binary(operator="+", left=Name(text=c), right=Name(text=d)),
        ) if {a, b} == {c, d}:
            return -1.0, 1.0
        case _:
            return None


def _tree_of(index: SpectralIndex) -> Node:
    words = {name: f"{v:.10g}" for name, v in index.constants.items()}
    return parse_formula(_NAME.sub(lambda m: _in_brackets(words.get(m[0], m[0])), index.formula))


@remembered(512)
def typical_values(index_id: str) -> dict[str, float]:
    """What an index comes to on schematic textbook spectra, by the cover's title; empty for those
    that need warmth or wavelengths."""
    index = get_index(index_id)
    tree = _tree_of(index)
    names = names_in(tree)
    ranges = {role.value: ends for role, ends in RANGES_UM.items()}
    if any(name not in ranges or ranges[name][0] > 2.4 for name in names):
        return {}
    program = compile_formula(tree, names)
    middles = [sum(ranges[name]) / 2 for name in names]
    found = {}
    for spectrum in REFERENCE_SPECTRA:
        value = float(program.run(reflectance_at(spectrum, middles)[:, None])[0])
        if value == value:  # has one
            found[spectrum.title] = value
    return found
