"""A class map's recipe: all that is needed to make the same pixels again, as data."""

import hashlib
import json
from collections.abc import Callable, Iterable
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from kitesort.core.classify.protocol import TrainedClassifier, TrainingSamples
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.engine import (
    UNWATCHED,
    CancelCheck,
    ProgressCallback,
    Watch,
    never_cancelled,
    no_progress,
    steps,
)
from kitesort.core.errors import (
    BadSettingsError,
    DuplicateNameError,
    SiteError,
    TooFewClassesError,
    TooFewPixelsError,
)
from kitesort.core.raster.cog import UNCLASSIFIED, LegendEntry
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from kitesort.core.training.site import SitePixels, parse_site, site_pixels


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class RecipeClass(_Model):
    code: int
    name: str
    colour: str


class RecipeSite(_Model):
    """A training site: class code and outline (GeoJSON geometry in the scene's CRS)."""

    code: int
    geometry: dict[str, Any]


class ClassMapRecipe(_Model):
    """Inputs by id and name, method with version and settings, seed."""

    kind: Literal["class-map"] = "class-map"
    scene_id: int
    scene_name: str
    excluded: tuple[str, ...]
    roles: tuple[str, ...]
    classes: tuple[RecipeClass, ...]
    sites: tuple[RecipeSite, ...]
    method: str
    method_version: int
    settings: dict[str, Any]
    seed: int = 0

    @property
    def trained_on(self) -> str:
        """Of the sites alone: their outlines and the codes of their classes."""
        return sites_fingerprint(self.sites)

    @property
    def fingerprint(self) -> str:
        """Of the pixels that come out: names and colours make no other ones."""
        told = self.model_dump(exclude={"scene_name", "classes", "sites"})
        return _hash(json.dumps(told | {"sites": self.trained_on}, sort_keys=True))

    @property
    def version(self) -> str:
        """Of all of it, names and colours included: of the map as it looks."""
        return _hash(self.model_dump_json())

    @property
    def n_sites(self) -> int:
        return len(self.sites)

    @property
    def legend(self) -> tuple[LegendEntry, ...]:
        return (*(LegendEntry(c.code, c.name, c.colour) for c in self.classes), UNCLASSIFIED)

    @property
    def sentence(self) -> str:
        """The recipe in words, as it stands above a pane and in the exported file."""
        title = CLASSIFIERS[self.method].title.lower()
        return (
            f"{self.scene_name} classified by {title} on {len(self.roles)} bands "
            f"({', '.join(self.roles)}), from {len(self.sites)} training sites of "
            f"{len({s.code for s in self.sites})} classes{_left_out(self.excluded)}."
        )


def sites_fingerprint(sites: Iterable[RecipeSite]) -> str:
    """The same outlines of the same classes in the same order give the same."""
    return _hash(json.dumps([[site.code, site.geometry] for site in sites], sort_keys=True))


def _hash(text: str) -> str:
    return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()


def _left_out(names: tuple[str, ...]) -> str:
    return f"; {', '.join(n.replace('_', ' ') for n in names)} left out" if names else ""


PixelReader = Callable[[Raster, dict[str, Any], tuple[str, ...]], SitePixels]


def read_site(raster: Raster, geometry: dict[str, Any], roles: tuple[str, ...]) -> SitePixels:
    """Pixels of a site from its GeoJSON."""
    return site_pixels(raster, parse_site(geometry), roles)


def collect_samples(
    recipe: ClassMapRecipe,
    raster: Raster,
    read: PixelReader = read_site,
    *,
    progress: ProgressCallback = no_progress,
    is_cancelled: CancelCheck = never_cancelled,
) -> tuple[TrainingSamples, list[str]]:
    """Training pixels of all sites that have any, and a sentence for each site that has not.

    ``read`` may remember what it read before.

    Raises
    ------
    TooFewClassesError : no site has a pixel. CancelledError
    """
    values, codes, remarks = [], [], []
    names = {c.code: c.name for c in recipe.classes}
    for site in steps(recipe.sites, progress, is_cancelled):
        try:
            pixels = read(raster, site.geometry, recipe.roles)
        except SiteError as error:
            remarks.append(f"A site of {names[site.code]} takes no part. {error.sentence}")
            continue
        values.append(pixels.values)
        codes.append(np.full(pixels.n_valid, site.code, np.uint8))
    if not values:
        raise TooFewClassesError("There is no training pixel yet. Draw sites of two classes.")
    samples = TrainingSamples(np.concatenate(values), np.concatenate(codes), recipe.roles, names)
    return samples, remarks


def train(
    recipe: ClassMapRecipe, samples: TrainingSamples, watch: Watch = UNWATCHED
) -> TrainedClassifier:
    """The classifier of a recipe, trained on its samples.

    Raises
    ------
    BadSettingsError : settings out of bounds or unknown.
    TrainingError : samples that the method cannot use.
    """
    spec = CLASSIFIERS[recipe.method]
    if recipe.method_version != spec.version:
        raise BadSettingsError(
            f"The recipe is for version {recipe.method_version} of {spec.title}; "
            f"this is version {spec.version}."
        )
    require_known_classes(recipe)
    return spec.fit(samples, validate_settings(spec, recipe.settings), recipe.seed, watch)


def require_known_classes(recipe: ClassMapRecipe) -> None:
    """Codes and names must be unique, and every site's class known.

    Raises
    ------
    DuplicateNameError, BadSettingsError
    """
    codes = [c.code for c in recipe.classes]
    names = [c.name for c in recipe.classes]
    if len(set(codes)) < len(codes) or len(set(names)) < len(names):
        raise DuplicateNameError("Two classes have the same name or code. Rename one of them.")
    if not {s.code for s in recipe.sites} <= set(codes):
        raise BadSettingsError("A site belongs to a class that is not in the class scheme.")


def require_enough_pixels(samples: TrainingSamples, recipe: ClassMapRecipe) -> None:
    """Refuse a whole run when a class that has sites has no usable pixel at all.

    Raises
    ------
    TooFewPixelsError
    """
    for code in sorted({s.code for s in recipe.sites} - set(samples.class_codes)):
        raise TooFewPixelsError(
            f"{samples.names[code]} has sites but no usable pixel. Draw it where the ground is "
            "seen, or delete its sites."
        )
