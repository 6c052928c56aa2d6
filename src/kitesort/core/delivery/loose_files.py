"""Rasters without metadata that is understood: grouped, pre-filled with what is known, and asked
about. Nothing is guessed: a role is filled in only where a file or band says it in words."""

import re
from collections.abc import Iterable
from datetime import date
from itertools import groupby

from kitesort.core.bands import RANGES_UM, Role
from kitesort.core.delivery.format import Findings, Recognised
from kitesort.core.delivery.inventory import FoundFile, Inventory, RasterFacts
from kitesort.core.delivery.scene import MAX_BANDS, DeliveredBand, DeliveredScene

DATE = re.compile(r"(?<!\d)(19[789]\d|20\d\d)[-_]?(0[1-9]|1[0-2])[-_]?(0[1-9]|[12]\d|3[01])(?!\d)")
NOT_BANDS = re.compile(
    r"(?i)(^|[_\-. ])(qa|bqa|quality|mask|saa|sza|vaa|vza|angles?|preview|thumb(nail)?|quick"
    r"look|ql|tci|browse|ovr)([_\-. ]|$)"
)
INDEX_WORDS = re.compile(r"(?i)(^|[_\-. ])(ndvi|evi|savi|ndwi|ndmi|nbr|index)([_\-. ]|$)")
MAX_SCENES = 400


def recognise_loose_files(inventory: Inventory) -> Findings:
    """Sets of single-band files, multi-band files, and dated index files."""
    rasters = [f for f in inventory.files if f.raster and not f.problem]
    bands = [f for f in rasters if not NOT_BANDS.search(f.stem)]
    multi = [f for f in bands if f.raster and f.raster.count > 1]
    single = [f for f in bands if f.raster and f.raster.count == 1]
    dated = [f for f in single if INDEX_WORDS.search(f.stem) and date_in(f.stem)]
    sets = _sets_of([f for f in single if f not in dated])
    scenes = [_one_file(inventory, f) for f in multi]
    scenes += [_index_file(inventory, f) for f in dated]
    scenes += [_file_set(inventory, members) for members in sets]
    taken = frozenset[str]().union(*(s.taken for s in scenes))
    return Findings(tuple(scenes[:MAX_SCENES]), (), taken)


def _sets_of(files: list[FoundFile]) -> list[list[FoundFile]]:
    """Single-band files that lie in one folder, on one date, and over one another."""

    def key(f: FoundFile) -> tuple[str, str, str, tuple[float, ...]]:
        assert f.raster is not None
        size = max(abs(v) for v in f.raster.bounds) or 1.0
        corner = tuple(round(v / size, 5) for v in f.raster.bounds)
        return f.folder, str(date_in(f.stem)), f.raster.crs or "", corner

    ordered = sorted(files, key=lambda f: (key(f), files.index(f)))
    return [list(group) for _, group in groupby(ordered, key)]


def date_in(text: str) -> date | None:
    """The date that a name carries, written year, month, day."""
    for match in DATE.finditer(text):
        try:
            return date(int(match[1]), int(match[2]), int(match[3]))
        except ValueError:
            continue
    return None


def role_in(words: str) -> str:
    """A role that a name states as a whole word, else nothing."""
    found = [w for w in re.split(r"[^a-z0-9]+", words.casefold()) if w in set(Role)]
    return found[0] if len(found) == 1 else ""


def _centre(role: str) -> float | None:
    return round(sum(RANGES_UM[Role(role)]) / 2, 3) if role in set(Role) else None


def _facts(f: FoundFile) -> RasterFacts:
    assert f.raster is not None
    return f.raster


def _band(f: FoundFile, index: int, words: str, colour: str = "") -> DeliveredBand:
    facts = _facts(f)
    role = role_in(words) or (colour if colour in ("red", "green", "blue") else "")
    name = facts.descriptions[index - 1] or (f.stem if facts.count == 1 else f"band {index}")
    return DeliveredBand(
        file=f.path,
        index=index,
        name=name,
        role=role,
        wavelength_um=_centre(role),
        resolution_m=facts.pixel_size,
        used=colour != "alpha",
        reason="the file calls it transparency" if colour == "alpha" else "",
    )


def _one_file(inventory: Inventory, f: FoundFile) -> Recognised:
    facts = _facts(f)
    bands = [_band(f, i + 1, facts.descriptions[i], facts.colours[i]) for i in range(facts.count)]
    # A fourth band of small numbers is called transparency by many programs without asking.
    doubt = (
        ["The file calls its bands red, green, blue and transparency. Check what each one sees."]
        if "alpha" in facts.colours
        else []
    )
    return _ask(inventory, f.stem, [f], bands, doubt)


def _file_set(inventory: Inventory, files: list[FoundFile]) -> Recognised:
    name = _common_name(files)
    ends = {f.path: f.stem.removeprefix(name) if len(files) > 1 else f.stem for f in files}
    bands = [_band(f, 1, f"{ends[f.path]} {_facts(f).descriptions[0]}") for f in files]
    return _ask(inventory, name or inventory.root.name, files, bands)


def _index_file(inventory: Inventory, f: FoundFile) -> Recognised:
    """One date of a series of an index; the name says which index."""
    match = INDEX_WORDS.search(f.stem)
    assert match is not None
    facts = _facts(f)
    scaled = facts.dtype in ("int16", "int32")
    band = DeliveredBand(
        file=f.path,
        name=f.stem,
        role=match[2].casefold(),
        resolution_m=facts.pixel_size,
        gain=0.0001 if scaled else 1.0,
        quantity="values",
    )
    question = (
        "Whole numbers: the usual factor of 0.0001 is filled in. Is it right?" if scaled else ""
    )
    return _ask(inventory, f.stem, [f], [band], [question] if question else [])


def _common_name(files: list[FoundFile]) -> str:
    first, last = min(f.stem for f in files), max(f.stem for f in files)
    n = next((i for i, (a, b) in enumerate(zip(first, last, strict=False)) if a != b), len(first))
    return first[:n].rstrip("_-. bB") if len(files) > 1 else first


def _ask(
    inventory: Inventory,
    name: str,
    files: list[FoundFile],
    bands: list[DeliveredBand],
    questions: Iterable[str] = (),
) -> Recognised:
    asked = list(questions)
    facts = _facts(files[0])
    if len(bands) > MAX_BANDS:
        asked.append(
            f"There are {len(bands)} bands, and a stack can hold {MAX_BANDS}. Choose the ones you "
            "need."
        )
        bands = [b.model_copy(update={"used": i < MAX_BANDS}) for i, b in enumerate(bands)]
    if any(not b.role for b in bands):
        asked.append("Say what each band sees. Nothing here tells which is which.")
    if facts.crs is None:
        asked.append("Give the coordinate system: the file names none.")
    acquired = next((d for f in files if (d := date_in(f.stem))), None)
    if acquired is None:
        asked.append("Give the date it was taken: no name or metadata tells.")
    scene = DeliveredScene(
        folder=str(inventory.root),
        name=name,
        sensor="Unknown sensor",
        acquired=acquired,
        divide_by_sine=False,
        fill_value=facts.nodata,
        bands=tuple(bands),
    )
    return Recognised(scene, frozenset(f.path for f in files), tuple(asked))
