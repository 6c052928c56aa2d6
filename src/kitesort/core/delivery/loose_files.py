"""Rasters without metadata that is understood: grouped, pre-filled with what is known, and asked
about. Nothing is guessed: a role is filled in only where a file or band says it in words."""

import math
import re
from collections.abc import Iterable
from datetime import date

from kitesort.core.bands import Role
from kitesort.core.delivery.format import Findings, Recognised
from kitesort.core.delivery.inventory import FoundFile, Inventory, RasterFacts
from kitesort.core.delivery.scene import MAX_BANDS, DeliveredBand, DeliveredScene
from kitesort.core.roles import usual_wavelength

DATE = re.compile(r"(?<!\d)(19[789]\d|20\d\d)[-_]?(0[1-9]|1[0-2])[-_]?(0[1-9]|[12]\d|3[01])(?!\d)")
NOT_BANDS = re.compile(
    r"(?i)(^|[_\-. ])(qa|bqa|quality|mask|saa|sza|vaa|vza|angles?|preview|thumb(nail)?|quick"
    r"look|ql|tci|browse|ovr)([_\-. ]|$)"
)
INDEX_WORDS = re.compile(r"(?i)(^|[_\-. ])(ndvi|evi|savi|ndwi|ndmi|nbr|index)([_\-. ]|$)")
MAX_SCENES = 400
ALIGNED_PX = 0.001
DISPLAY = ("red", "green", "blue")
NO_MEASUREMENT = {
    "alpha": "the file calls it transparency",
    "palette": "it comes with a colour table: codes of classes, not measurements",
}


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
    sets: list[list[FoundFile]] = []
    for file in files:
        mine = next((one for one in sets if _belong_together(one[0], file)), None)
        if mine is None:
            sets.append([file])
        else:
            mine.append(file)
    return sets


def _belong_together(a: FoundFile, b: FoundFile) -> bool:
    """Over one another but for the width of a pixel: a finer band may begin within the first pixel
    of a coarser one."""
    one, two = _facts(a), _facts(b)
    if (a.folder, date_in(a.stem), one.crs) != (b.folder, date_in(b.stem), two.crs):
        return False
    reach = max(one.pixel_size, two.pixel_size)
    return all(abs(p - q) <= reach for p, q in zip(one.bounds, two.bounds, strict=True))


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


def _facts(f: FoundFile) -> RasterFacts:
    assert f.raster is not None
    return f.raster


def _fill(facts: RasterFacts) -> float | None:
    """What marks no data; not-a-number is none without being marked."""
    return facts.nodata if facts.nodata is not None and math.isfinite(facts.nodata) else None


def _band(f: FoundFile, index: int, words: str, colour: str = "") -> DeliveredBand:
    """``words`` go before ``colour``: programs call bands red, or transparency, unasked."""
    facts = _facts(f)
    role = role_in(words) or (colour if colour in DISPLAY else "")
    reason = "" if role_in(words) else NO_MEASUREMENT.get(colour, "")
    name = facts.descriptions[index - 1] or (f.stem if facts.count == 1 else f"band {index}")
    return DeliveredBand(
        file=f.path,
        index=index,
        name=name,
        role=role,
        wavelength_um=usual_wavelength(role),
        pixel_size=facts.pixel_size,
        fill_value=_fill(facts),
        used=not reason,
        reason=reason,
    )


def _one_file(inventory: Inventory, f: FoundFile) -> Recognised:
    facts = _facts(f)
    bands = [_band(f, i + 1, facts.descriptions[i], facts.colours[i]) for i in range(facts.count)]
    told = [c for c, d in zip(facts.colours, facts.descriptions, strict=True) if not role_in(d)]
    called = [{"alpha": "transparency"}.get(c, c) for c in told if c in (*DISPLAY, "alpha")]
    doubt = (
        [f"The file calls its bands {', '.join(called)}, as many programs do unasked. Check what "
         "each one sees."]
        if called
        else []
    )  # fmt: skip
    return _ask(inventory, f.stem, [f], bands, doubt)


def _file_set(inventory: Inventory, files: list[FoundFile]) -> Recognised:
    name = _common_name(files)
    ends = {f.path: f.stem.removeprefix(name) if len(files) > 1 else f.stem for f in files}
    bands = [_band(f, 1, f"{ends[f.path]} {_facts(f).descriptions[0]}", _coded(f)) for f in files]
    return _ask(inventory, name or inventory.title, files, bands)


def _coded(f: FoundFile) -> str:
    """A single band is never red because a picture's first band is."""
    return "palette" if _facts(f).colours[0] == "palette" else ""


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
        pixel_size=facts.pixel_size,
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
    fills = {_fill(_facts(f)) for f in files}
    scene = DeliveredScene(
        folder=str(inventory.root),
        name=name,
        sensor="Unknown sensor",
        acquired=acquired,
        divide_by_sine=False,
        fill_value=fills.pop() if len(fills) == 1 else None,
        bands=tuple(bands),
        remarks=_remarks(files),
    )
    return Recognised(scene, frozenset(f.path for f in files), tuple(asked))


def _remarks(files: list[FoundFile]) -> tuple[str, ...]:
    """What the files do not have in common, and what becomes of it."""
    remarks = [_alignment(files)]
    if len({_fill(_facts(f)) for f in files}) > 1:
        remarks.append("The files mark no data differently; each band goes by its own file's mark.")
    return tuple(remark for remark in remarks if remark)


def _alignment(files: list[FoundFile]) -> str:
    """How the pixels of the bands lie to those of the finest, empty where all are the same."""
    finest = min(files, key=lambda f: _facts(f).pixel_size)
    told = [words for f in files if (words := _against(f, finest))]
    if not told:
        return ""
    return (
        f"Not all bands lie on the same pixels. Against {finest.stem}: {'; '.join(told)}. They are "
        "brought onto the grid that you choose for the stack, in the way that you choose."
    )


def _against(f: FoundFile, finest: FoundFile) -> str:
    one, two = _facts(f), _facts(finest)
    words = []
    if not math.isclose(one.pixel_size, two.pixel_size, rel_tol=1e-6):
        words.append(f"pixels of {one.pixel_size:g} instead of {two.pixel_size:g}")
    right, up = (
        (a - b) / two.pixel_size
        for a, b in ((one.bounds[0], two.bounds[0]), (one.bounds[3], two.bounds[3]))
    )
    if max(abs(right), abs(up)) > ALIGNED_PX:
        words.append(f"begins {right:+.2f} pixels to the right and {up:+.2f} up")
    return f"{f.stem} {' and '.join(words)}" if words else ""
