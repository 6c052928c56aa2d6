"""What would help a training set most, in order, in words, each with the acts that answer it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from kitesort.core.group_statistics import USUAL_MINIMUM_PER_BAND
from kitesort.core.training.overlap import Contested
from kitesort.core.training.site_figures import SiteFigures

Act = Literal["move", "split", "shrink", "delete", "trust", "draw"]
MOST = 0.5  # of a site's pixels: then the site is of another class
SOME = 0.15  # then it lies across an edge
HIDDEN = 0.3  # of a site's pixels, under cloud or no data
FEW_SITES = 5  # below that one bad site spoils a class
BUNCHED = 0.02  # of the scene's area, around all sites of a class


@dataclass(frozen=True)
class Advice:
    """A sentence, what it is about (sites by id, the most doubtful first, and class codes), and
    what can be done at once."""

    sentence: str
    acts: tuple[Act, ...] = ()
    site_ids: tuple[int, ...] = ()
    code: int | None = None
    other_code: int | None = None


@dataclass(frozen=True)
class ClassFacts:
    """Of a class: sites that take part, valid pixels, whether it is too small to be trained, and
    the area around all of its sites as a share of the scene's."""

    name: str
    n_sites: int
    n_pixels: int
    left_out: bool
    around: float


@dataclass(frozen=True)
class SiteFacts:
    """Of a site: its id, what it is called, pixels it covers, and what its pixels say."""

    id: int
    title: str
    n_covered: int
    trusted: bool
    figures: SiteFigures


def advise(
    classes: Mapping[int, ClassFacts],
    sites: Sequence[SiteFacts],
    contested: Sequence[Contested],
    n_bands: int,
    n_idle: int = 0,
) -> list[Advice]:
    """All advice, what it would gain most first: what is claimed twice, classes that cannot be
    trained, sites in doubt by how much, what is scarce, and sites that take no part at all
    (``n_idle``)."""
    doubted = sorted(
        (site for site in sites if not site.trusted), key=lambda site: -site.figures.doubt
    )
    groups = _points_alike(doubted, classes, n_bands)
    grouped = {site.id for members in groups.values() for site in members[1:]}
    of_sites = [
        advice
        for site in doubted
        if site.id not in grouped
        and (advice := _of_points(groups.get(site.id), classes) or _of_site(site, classes, n_bands))
    ]
    return [
        *_contested(contested, classes),
        *_untrained(classes, n_bands),
        *of_sites,
        *_scarce(classes, n_bands),
        *_idle(n_idle),
    ]


def _contested(found: Sequence[Contested], classes: Mapping[int, ClassFacts]) -> Iterable[Advice]:
    for one in found:
        yield Advice(
            f"{_pixels(one.n_pixels)} in sites of both {classes[one.code].name} and "
            f"{classes[one.other_code].name}. Redraw one of the two.",
            code=one.code,
            other_code=one.other_code,
        )


def _untrained(classes: Mapping[int, ClassFacts], n_bands: int) -> Iterable[Advice]:
    for code, facts in classes.items():
        if facts.n_sites == 0:
            yield Advice(
                f"{facts.name} has no site yet and will not appear on the map.", ("draw",),
                code=code,
            )  # fmt: skip
        elif facts.left_out:
            yield Advice(
                f"{facts.name} has too few pixels to be trained: at least {n_bands + 1} are "
                "needed. It is left out of the map as it stands.",
                ("draw",),
                code=code,
            )


def _points_alike(
    doubted: Sequence[SiteFacts], classes: Mapping[int, ClassFacts], n_bands: int
) -> dict[int, list[SiteFacts]]:
    """Points, of which there may be thousands, of which the same is to be said: by the id of the
    first of them, two at least."""
    alike: dict[tuple[int, int | None], list[SiteFacts]] = {}
    for site in doubted:
        figures = site.figures
        if site.n_covered == 1 and (
            figures.like is not None or _is_strange(figures, classes, n_bands)
        ):
            alike.setdefault((figures.code, figures.like), []).append(site)
    return {members[0].id: members for members in alike.values() if len(members) > 1}


def _of_points(
    members: Sequence[SiteFacts] | None, classes: Mapping[int, ClassFacts]
) -> Advice | None:
    if members is None:
        return None
    code, like = members[0].figures.code, members[0].figures.like
    points = f"{len(members):,} points of {classes[code].name}"
    sentence = (
        f"{points} look like {classes[like].name}."
        if like is not None
        else f"{points} are unlike the others of their class."
    )
    acts: tuple[Act, ...] = ("move", "delete", "trust") if like is not None else ("delete", "trust")
    return Advice(sentence, acts, tuple(site.id for site in members), code, like)


def _of_site(site: SiteFacts, classes: Mapping[int, ClassFacts], n_bands: int) -> Advice | None:
    figures = site.figures
    hidden = 1 - figures.n_pixels / site.n_covered
    other = figures.like
    name = "" if other is None else classes[other].name
    n_like = round(figures.like_share * figures.n_pixels)
    told: tuple[str, tuple[Act, ...]] | None = None
    if name and figures.like_share > MOST:
        share = "" if site.n_covered == 1 else f": {n_like} of its {_count(figures)}"
        told = f"looks like {name}{share}", ("move", "delete")
    elif name and figures.like_share >= SOME and _is_odd(figures):
        told = (
            f"is partly something else, most of it like {name} ({n_like} of its "
            f"{_count(figures)}). It may lie across an edge",
            ("split", "shrink", "delete"),
        )
    elif figures.rim:
        told = "has unusual pixels along its border. It may touch an edge", ("shrink",)
    elif figures.two_kinds and _is_odd(figures):
        told = "holds two kinds of pixels", ("split", "delete")
    elif hidden > HIDDEN:
        told = (
            f"is mostly hidden: {site.n_covered - figures.n_pixels} of its {site.n_covered} "
            "pixels are cloud, shadow or no data",
            ("delete",),
        )
    elif _is_strange(figures, classes, n_bands):
        told = f"is unlike the other sites of {classes[figures.code].name}", ("delete",)
    if told is None:
        return None
    sentence, acts = told
    return Advice(
        f"{site.title} {sentence}.",
        (*acts, "trust"),
        site_ids=(site.id,),
        code=figures.code,
        other_code=other,
    )


def _scarce(classes: Mapping[int, ClassFacts], n_bands: int) -> Iterable[Advice]:
    least = USUAL_MINIMUM_PER_BAND * n_bands
    trained = {code: one for code, one in classes.items() if one.n_sites and not one.left_out}
    for code, facts in sorted(trained.items(), key=lambda item: item[1].n_pixels):
        if facts.n_pixels < least:
            yield Advice(
                f"{facts.name} has {_plural(facts.n_pixels, 'pixel')}; ten per band, {least}, is "
                "the usual minimum. Draw more of it.",
                ("draw",),
                code=code,
            )
    for code, facts in trained.items():
        if facts.n_sites < FEW_SITES:
            yield Advice(
                f"{facts.name} has {_plural(facts.n_sites, 'site')}; a dozen or more, spread over "
                "the scene, show more of its kinds.",
                ("draw",),
                code=code,
            )
        elif facts.around < BUNCHED:
            yield Advice(
                f"The sites of {facts.name} lie close together. Look for it elsewhere, too.",
                ("draw",),
                code=code,
            )


def _idle(n: int) -> Iterable[Advice]:
    if n:
        takes = "site takes" if n == 1 else "sites take"
        yield Advice(f"{n:,} {takes} no part; the list of its class says why.")


def _is_strange(figures: SiteFigures, classes: Mapping[int, ClassFacts], n_bands: int) -> bool:
    return _is_odd(figures) and _is_well_known(classes[figures.code], n_bands)


def _is_odd(figures: SiteFigures) -> bool:
    return figures.oddness is not None and figures.oddness > 1


def _is_well_known(facts: ClassFacts, n_bands: int) -> bool:
    """Whether there is enough of a class to say that a site is unlike it."""
    return facts.n_sites >= FEW_SITES and facts.n_pixels >= USUAL_MINIMUM_PER_BAND * n_bands


def _count(figures: SiteFigures) -> str:
    return _plural(figures.n_pixels, "pixel")


def _pixels(n: int) -> str:
    return f"{n:,} pixel lies" if n == 1 else f"{n:,} pixels lie"


def _plural(n: int, noun: str) -> str:
    return f"{n:,} {noun}" if n == 1 else f"{n:,} {noun}s"
