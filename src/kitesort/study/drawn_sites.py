"""A study's sites as a scene sees them: those that take part, in the scene's CRS."""

from collections.abc import Sequence
from functools import cached_property
from typing import Any

from kitesort.core.classify.training import DrawnSite, fingerprint_sites
from kitesort.core.geometry import is_same_crs, reproject_outlines
from kitesort.core.newest import Newest
from kitesort.core.outline import outline_text
from kitesort.store.records import Site
from kitesort.store.scheme import list_classes
from kitesort.store.sites import Sites, list_sites
from kitesort.study.rasters import layer_record, open_layer, study_crs

KEPT_OUTLINES = 200_000
KEPT_LISTS = 16
Outline = tuple[str, dict[str, Any]]  # a GeoJSON geometry as text and as data

# By the outline's text, and the coordinate systems that it was carried from and to.
_carried: Newest[tuple[str, str, str], Outline] = Newest(KEPT_OUTLINES)
_Key = tuple[str, int, bool, tuple[tuple[int, int], ...]]


class DrawnSites(tuple[DrawnSite, ...]):
    """Sites as a scene sees them, at one moment."""

    @cached_property
    def fingerprint(self) -> str:
        """Of outlines and classes, whatever order they were drawn in."""
        return fingerprint_sites(self)


_drawn: Newest[_Key, DrawnSites] = Newest(KEPT_LISTS)


def drawn_sites(
    study_id: int, scene_id: int, aside: bool = False, sites: Sites | None = None
) -> DrawnSites:
    """The study's sites as they are now, those that take part in a scene, in its CRS; those set
    ``aside`` instead. ``sites``: where they have been listed already."""
    code_of = {c.id: c.code for c in list_classes(study_id)}
    known = list_sites(study_id) if sites is None else sites
    key = known.version, scene_id, aside, tuple(code_of.items())
    return _drawn.get(key, lambda: _draw(study_id, scene_id, aside, known, code_of))


def _draw(
    study_id: int, scene_id: int, aside: bool, sites: Sites, code_of: dict[int, int]
) -> DrawnSites:
    chosen = [  # a class may go between the list of classes and that of sites
        s
        for s in sites
        if s.set_aside == aside and s.class_id in code_of and is_true_in(s, scene_id)
    ]
    outlines = outlines_in(study_id, scene_id, chosen)
    return DrawnSites(
        DrawnSite.of_outline(code_of[site.class_id], *outline)
        for site, outline in zip(chosen, outlines, strict=True)
    )


def outlines_in(study_id: int, scene_id: int, sites: Sequence[Site]) -> list[Outline]:
    """Outlines of sites, in their order, in the CRS of a scene.

    Raises
    ------
    BadSettingsError : one of them cannot be shown there.
    """
    drawn_in, there = study_crs(study_id), open_layer(scene_id).grid.crs
    if is_same_crs(drawn_in, there):
        return [(site.outline, site.geometry) for site in sites]
    found = {site.outline: _carried.find((site.outline, drawn_in, there)) for site in sites}
    missing = {s.outline: s.geometry for s in sites if found[s.outline] is None}
    moved = reproject_outlines(list(missing.values()), list(missing), drawn_in, there)
    for text, geometry in zip(missing, moved, strict=True):
        carried = outline_text(geometry), geometry
        _carried.put((text, drawn_in, there), carried)
        found[text] = carried
    return [one for site in sites if (one := found[site.outline]) is not None]


def takes_part(site: Site, scene_id: int) -> bool:
    """Whether a site teaches what a scene shows."""
    return not site.set_aside and is_true_in(site, scene_id)


def is_true_in(site: Site, scene_id: int) -> bool:
    """Whether the ground is that class on the date of a scene."""
    return site.true_on is None or site.true_on == layer_record(scene_id).acquired


def trained_on_now(study_id: int, scene_id: int) -> str:
    """The fingerprint that a map of a scene would have of the sites as they are now."""
    return drawn_sites(study_id, scene_id).fingerprint
