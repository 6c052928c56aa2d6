"""One act over many sites, undone as one."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Literal

from shapely.geometry import LineString, mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import InputError, NotFoundError, SiteError
from kitesort.core.geometry import reproject_shape
from kitesort.core.outline import parse_site
from kitesort.core.training.reshape import cut, joined, parted, shrunk
from kitesort.core.training.set_aside import choose_aside
from kitesort.store.records import Site
from kitesort.store.scheme import list_classes
from kitesort.store.sites import SiteEdit, edit_sites, list_sites
from kitesort.study.judging import judge, titles_of
from kitesort.study.rasters import layer_record, open_layer, study_crs

SiteAct = Literal[
    "delete", "move", "copy", "trust", "doubt", "set_aside", "train", "this_date", "any_date",
    "merge", "cut", "shrink", "split",
]  # fmt: skip
WORDS: dict[SiteAct, str] = {
    "delete": "Delete", "move": "Move", "copy": "Copy", "trust": "Vouch for",
    "doubt": "Judge again", "set_aside": "Set aside", "train": "Train on", "merge": "Merge",
    "this_date": "True on one date:", "any_date": "True on every date:", "cut": "Cut",
    "shrink": "Shrink", "split": "Split",
}  # fmt: skip


@dataclass(frozen=True)
class ActOrder:
    """What is to be done to which sites: ``class_id`` to move or copy to, ``line`` (corners in the
    study's CRS) to cut along; pixels are those of a scene in some bands."""

    act: SiteAct
    site_ids: tuple[int, ...]
    scene_id: int
    roles: tuple[str, ...]
    class_id: int | None = None
    line: tuple[tuple[float, float], ...] = ()


def act_on_sites(study_id: int, order: ActOrder) -> list[int]:
    """Do it to all of them, or to none; the ids of those that were changed or added.

    Raises
    ------
    NotFoundError, InputError. SiteError : one of them cannot be changed that way.
    """
    by_id = {site.id: site for site in list_sites(study_id)}
    if not order.site_ids or any(i not in by_id for i in order.site_ids):
        raise NotFoundError("A site has been removed meanwhile. Nothing was changed.")
    chosen = [by_id[i] for i in dict.fromkeys(order.site_ids)]
    edits = _EDITS[order.act](study_id, order, chosen)
    noun = "a site" if len(chosen) == 1 else f"{len(chosen)} sites"
    return edit_sites(study_id, f"{WORDS[order.act]} {noun}", edits)


def set_aside(study_id: int, share: float, seed: int) -> list[int]:
    """Set a share of each class's sites aside, at random, and let all others train; the ids of
    those set aside."""
    sites, classes = list_sites(study_id), {c.id: c.code for c in list_classes(study_id)}
    of_class: dict[int, list[int]] = {}
    for site in sites:
        if site.class_id in classes:  # a class may have gone meanwhile
            of_class.setdefault(classes[site.class_id], []).append(site.id)
    chosen = choose_aside(of_class, share, seed)
    aside = set(chosen)
    edits = [
        SiteEdit(site.id, {"set_aside": site.id in aside})
        for site in sites
        if site.set_aside != (site.id in aside)
    ]
    edit_sites(study_id, f"Set {len(chosen)} sites aside", edits)
    return chosen


_Edits = Callable[[int, ActOrder, list[Site]], list[SiteEdit]]


def _each(values: dict[str, Any] | None) -> _Edits:
    return lambda _study, _order, sites: [SiteEdit(site.id, values) for site in sites]


def _move(_: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    return [SiteEdit(site.id, {"class_id": _wanted_class(order)}) for site in sites]


def _copy(_: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    return [_another(site, site.geometry, _wanted_class(order)) for site in sites]


def _this_date(_: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    day = layer_record(order.scene_id).acquired
    if day is None:
        raise InputError("The scene has no date.")
    return [SiteEdit(site.id, {"true_on": day.isoformat()}) for site in sites]


def _wanted_class(order: ActOrder) -> int:
    if order.class_id is None:
        raise InputError("Say which class the sites shall be of.")
    return order.class_id


def _another(site: Site, geometry: dict[str, Any], class_id: int | None = None) -> SiteEdit:
    """A new site with what was said of another one."""
    told = site.model_dump(mode="json", include={"note", "true_on", "set_aside"})
    return SiteEdit(None, {**told, "class_id": class_id or site.class_id, "geometry": geometry})


def _outline_of(study_id: int, site: Site) -> BaseGeometry:
    """Raises SiteError for one that crosses itself, of which nobody knows what it encloses."""
    with _named(study_id, site):
        return parse_site(site.geometry)


def _merge(study_id: int, _: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    if len(sites) < 2:
        raise InputError("Choose at least two sites to merge.")
    if len({site.class_id for site in sites}) > 1:
        raise InputError("Only sites of one class can be merged. Move them to one class first.")
    first, *others = sites
    whole = joined([_outline_of(study_id, site) for site in sites])
    changed = SiteEdit(first.id, {"geometry": dict(mapping(whole))})
    return [changed, *(SiteEdit(site.id, None) for site in others)]


def _cut(study_id: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    if len(order.line) < 2:
        raise InputError("A line has two corners at least.")
    line = LineString(order.line)
    return [
        edit for site in sites for edit in _in_two(site, *cut(_outline_of(study_id, site), line))
    ]


def _in_two(site: Site, first: BaseGeometry, second: BaseGeometry) -> list[SiteEdit]:
    return [
        SiteEdit(site.id, {"geometry": dict(mapping(first))}),
        _another(site, dict(mapping(second))),
    ]


def _shrink(study_id: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    grid, crs = open_layer(order.scene_id).grid, study_crs(study_id)
    by = min(abs(grid.transform.a), abs(grid.transform.e))
    edits = []
    for site in sites:
        there = reproject_shape(_outline_of(study_id, site), crs, grid.crs)
        with _named(study_id, site):
            smaller = shrunk(there, by)
        back = reproject_shape(smaller, grid.crs, crs)
        edits.append(SiteEdit(site.id, {"geometry": dict(mapping(back))}))
    return edits


def _split(study_id: int, order: ActOrder, sites: list[Site]) -> list[SiteEdit]:
    """At the second peak of its pixels; where there is none, those that look like another class."""
    judged = judge(study_id, order.scene_id, order.roles)
    known = {one.site.id for one in judged.sites}
    grid, crs = open_layer(order.scene_id).grid, study_crs(study_id)
    edits: list[SiteEdit] = []
    for site in sites:
        if site.id not in known:
            raise SiteError("The site has no pixel that could be split off.")
        one, pixels = judged.pixels_of(site.id)
        with _named(study_id, site):
            if one.figures.second is None:
                raise SiteError("All its pixels are of one kind: there is nothing to split.")
            parts = parted(pixels.rows, pixels.cols, one.figures.second, grid)
        edits += _in_two(site, *(reproject_shape(part, grid.crs, crs) for part in parts))
    return edits


@contextmanager
def _named(study_id: int, site: Site) -> Iterator[None]:
    """What goes wrong with one of many is said of that one."""
    try:
        yield
    except SiteError as error:
        title = titles_of(list_sites(study_id), list_classes(study_id))[site.id]
        raise SiteError(f"{title}: {error.sentence}") from error


_EDITS: dict[SiteAct, _Edits] = {
    "delete": _each(None),
    "trust": _each({"trusted": True}),
    "doubt": _each({"trusted": False}),
    "set_aside": _each({"set_aside": True}),
    "train": _each({"set_aside": False}),
    "this_date": _this_date,
    "any_date": _each({"true_on": None}),
    "move": _move,
    "copy": _copy,
    "merge": _merge,
    "cut": _cut,
    "shrink": _shrink,
    "split": _split,
}
