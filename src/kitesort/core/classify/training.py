"""A training as data: classes, sites, bands, method and seed; the samples, and what is learnt."""

import hashlib
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from functools import cached_property
from typing import Any

import numpy as np
from pydantic import Field

from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import (
    BadSettingsError,
    DuplicateNameError,
    SiteError,
    TooFewClassesError,
    TooFewPixelsError,
)
from kitesort.core.legend import UNCLASSIFIED, Legend, LegendEntry, code_array
from kitesort.core.outline import outline_text, parse_sites
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings, validate_settings
from kitesort.core.site_pixels import SitePixels, many_site_pixels
from kitesort.core.training.samples import TrainingSamples


class SchemeClass(Settings):
    code: int
    name: str
    colour: str


class DrawnSite(Settings):
    """A training site: class code and outline (GeoJSON geometry in the scene's CRS)."""

    code: int
    geometry: dict[str, Any]

    @classmethod
    def of_outline(cls, code: int, text: str, geometry: dict[str, Any]) -> "DrawnSite":
        """Of an outline whose text is known, and which was checked when it came in."""
        site = cls.model_construct(code=code, geometry=geometry)
        site.__dict__["outline"] = text
        return site

    @cached_property
    def outline(self) -> str:
        """The geometry as text, written once."""
        return outline_text(self.geometry)


class Training(Settings):
    """All that makes a classifier of a scene, method with version and settings, seed."""

    roles: tuple[str, ...] = Field(title="Bands")
    excluded: tuple[str, ...] = Field((), title="Left out")
    classes: tuple[SchemeClass, ...] = Field(title="Classes")
    sites: tuple[DrawnSite, ...] = Field(title="Training sites")
    method: str = Field(title="Method")
    method_version: int = Field(title="Version of the method")
    settings: dict[str, Any] = Field(default_factory=dict, title="Settings of the method")
    seed: int = Field(0, title="Seed")

    @cached_property
    def sites_fingerprint(self) -> str:
        """Of the sites alone: their outlines and the codes of their classes."""
        return fingerprint_sites(self.sites)

    @cached_property
    def digest(self) -> str:
        """Of all of it, names and colours included, and the order of the sites: of the map as it
        looks, and of what stands beside it."""
        sites = " ".join(f"{site.code} {site.outline}" for site in self.sites)
        text = f"{self.model_dump_json(exclude={'sites'})} {sites}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    @cached_property
    def in_order(self) -> tuple[DrawnSite, ...]:
        """The sites in the order in which samples number them."""
        return in_order(self.sites)

    @property
    def legend(self) -> Legend:
        return (*(LegendEntry(c.code, c.name, c.colour) for c in self.classes), UNCLASSIFIED)

    @property
    def words(self) -> str:
        title = CLASSIFIERS[self.method].title.lower()
        return (
            f"classified by {title} on {len(self.roles)} bands "
            f"({', '.join(self.roles)}), from {len(self.sites)} training sites of "
            f"{len({s.code for s in self.sites})} classes{_left_out(self.excluded)}"
        )


def _left_out(names: tuple[str, ...]) -> str:
    return f"; {', '.join(n.replace('_', ' ') for n in names)} left out" if names else ""


def in_order(sites: Iterable[DrawnSite]) -> tuple[DrawnSite, ...]:
    """By class, then by outline: whenever and in whatever order they were drawn, the same sites
    give the same samples."""
    drawn = tuple(sites)
    return tuple(drawn[i] for i in order_of(drawn))


def order_of(sites: Sequence[DrawnSite]) -> list[int]:
    """Places of the sites in the order in which their samples come."""
    return sorted(range(len(sites)), key=lambda i: (sites[i].code, sites[i].outline))


def fingerprint_sites(sites: Iterable[DrawnSite]) -> str:
    """The same outlines of the same classes give the same."""
    told = ", ".join(f"[{site.code}, {site.outline}]" for site in in_order(sites))  # as JSON
    return hashlib.blake2s(f"[{told}]".encode(), digest_size=8).hexdigest()


Pixels = list[SitePixels | SiteError]
PixelReader = Callable[[Raster, Sequence[DrawnSite], tuple[str, ...], Watch], Pixels]


def read_sites(
    raster: Raster, sites: Sequence[DrawnSite], roles: tuple[str, ...], watch: Watch
) -> Pixels:
    """Pixels of each site from its GeoJSON, or why it has none."""
    parsed = parse_sites([s.geometry for s in sites], [s.outline for s in sites])
    outlines = [one for one in parsed if not isinstance(one, SiteError)]
    pixels = iter(many_site_pixels(raster, outlines, roles, watch))
    return [one if isinstance(one, SiteError) else next(pixels) for one in parsed]


def collect_samples(
    training: Training, raster: Raster, read: PixelReader = read_sites, watch: Watch = UNWATCHED
) -> tuple[TrainingSamples, list[str]]:
    """Training pixels of all sites that have any, in canonical order, and a sentence for the sites
    of a class that have none for the same reason.

    ``read`` may remember what it read before.

    Raises
    ------
    TooFewClassesError : no site has a pixel. CancelledError
    """
    found: list[tuple[int, int, SitePixels]] = []
    idle: Counter[tuple[int, str]] = Counter()
    names = {c.code: c.name for c in training.classes}
    ordered = training.in_order
    pixels = read(raster, ordered, training.roles, watch)
    for number, (site, one) in enumerate(zip(ordered, pixels, strict=True)):
        if isinstance(one, SiteError):
            idle[site.code, one.sentence] += 1
        else:
            found.append((number, site.code, one))
    if not found:
        raise TooFewClassesError("There is no training pixel yet. Draw sites of two classes.")
    remarks = [_idle_words(n, names[code], reason) for (code, reason), n in idle.items()]
    return _join(found, training.roles, names), remarks


def _idle_words(n: int, name: str, reason: str) -> str:
    subject = f"A site of {name} takes" if n == 1 else f"{n:,} sites of {name} take"
    return f"{subject} no part. {reason}"


def _join(
    found: list[tuple[int, int, SitePixels]], roles: tuple[str, ...], names: dict[int, str]
) -> TrainingSamples:
    lengths = [pixels.n_valid for _, _, pixels in found]
    return TrainingSamples(
        np.concatenate([pixels.values for _, _, pixels in found]),
        np.repeat(code_array(code for _, code, _ in found), lengths),
        roles,
        names,
        np.repeat(np.array([number for number, _, _ in found], np.int32), lengths),
        np.concatenate([pixels.rows for _, _, pixels in found]),
        np.concatenate([pixels.cols for _, _, pixels in found]),
    )


def train(
    training: Training, samples: TrainingSamples, watch: Watch = UNWATCHED
) -> TrainedClassifier:
    """The classifier, trained on samples.

    Raises
    ------
    BadSettingsError : settings out of bounds or unknown.
    TrainingError : samples that the method cannot use. CancelledError
    """
    spec = CLASSIFIERS[training.method]
    if training.method_version != spec.version:
        raise BadSettingsError(
            f"The recipe is for version {training.method_version} of {spec.title}; "
            f"this is version {spec.version}."
        )
    require_known_classes(training)
    return spec.fit(samples, validate_settings(spec, training.settings), training.seed, watch)


def require_known_classes(training: Training) -> None:
    """Codes and names must be unique, and every site's class known.

    Raises
    ------
    DuplicateNameError, BadSettingsError
    """
    codes = [c.code for c in training.classes]
    names = [c.name for c in training.classes]
    if len(set(codes)) < len(codes) or len(set(names)) < len(names):
        raise DuplicateNameError("Two classes have the same name or code. Rename one of them.")
    if not {s.code for s in training.sites} <= set(codes):
        raise BadSettingsError("A site belongs to a class that is not in the class scheme.")


def require_enough_pixels(samples: TrainingSamples, training: Training) -> None:
    """Refuse a whole run when a class that has sites has no usable pixel at all.

    Raises
    ------
    TooFewPixelsError
    """
    for code in sorted({s.code for s in training.sites} - set(samples.class_codes)):
        raise TooFewPixelsError(
            f"{samples.names[code]} has sites but no usable pixel. Draw it where the ground is "
            "seen, or delete its sites."
        )
