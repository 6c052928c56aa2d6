"""How sure a trained classifier is of each pixel, as layers."""

from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.classify.applicability import MOST_POINTS, Applicability
from kitesort.core.classify.conformal import LEVEL, possible
from kitesort.core.classify.decide import decide
from kitesort.core.classify.given import GivenClassifier, open_given, require_fitting
from kitesort.core.classify.protocol import PIECE
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.shares import margin_of, shares_of
from kitesort.core.classify.stored import StoredClassifier, ToldClassifier
from kitesort.core.errors import InputError
from kitesort.core.legend import Legend, share_roles
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, masked_block
from kitesort.core.settings import Settings

Given = Literal["confidence", "possible", "unlike", "shares"]
WORDS: dict[Given, str] = {
    "confidence": "confidence",
    "possible": "classes still possible",
    "unlike": "what is unlike anything trained on",
    "shares": "the share of each class",
}


class SuretySettings(Settings):
    classifier: GivenClassifier = Field(title="Classifier")
    give: tuple[Given, ...] = Field(
        ("confidence",),
        min_length=1,
        max_length=4,
        title="Layers",
        description="Confidence: how far the best class is ahead of the second. Possible: how many "
        "classes are, at the level below. Unlike: the index of dissimilarity, and 1 where it is "
        f"beyond what held-out sites show, against {MOST_POINTS} training pixels at most, chosen "
        "to leave no large gap. Shares: of each class.",
    )
    level: float = Field(
        LEVEL,
        ge=0.5,
        le=0.99,
        title="Level",
        description="In so many of all cases the right class is among the possible ones.",
    )
    excluded: tuple[str, ...] = Field((), title="Left out")


class _Surety:
    """Picklable block function. ``with_codes``: the class codes come first, of the same scores."""

    def __init__(
        self,
        stored: StoredClassifier,
        give: tuple[Given, ...],
        level: float,
        with_codes: bool = False,
    ) -> None:
        self.model, self.give, self.with_codes = stored.model, give, with_codes
        self.kind = CLASSIFIERS[stored.told.method].scores
        self.least, self.like = -np.inf, None
        if "possible" in give:
            self.least = _least_share(stored, level)
        if "unlike" in give:
            self.like = _require_like(stored)

    def __call__(self, block: Block, _roles: tuple[str, ...]) -> Block:
        pixels = np.ascontiguousarray(block.values[:, block.valid])
        starts = range(0, max(pixels.shape[1], 1), PIECE)
        told = np.concatenate([self._tell(pixels[:, i : i + PIECE]) for i in starts], axis=1)
        values = np.zeros((len(told), *block.valid.shape), np.float32)
        values[:, block.valid] = told
        return masked_block(values, block.valid)

    def _tell(self, pixels: npt.NDArray[np.float32]) -> npt.NDArray[np.float64]:
        """The layers (layers, n) of pixels (bands, n)."""
        scores = self.model.scores(pixels)
        rows: list[npt.NDArray[Any]] = []
        if self.with_codes:
            rows.append(decide(scores, self.model.codes, self.model.lowest))
        shares = shares_of(scores, self.kind)
        for one in self.give:
            if one == "confidence":
                rows.append(margin_of(shares))
            elif one == "possible":
                rows.append(possible(shares, self.least).sum(axis=0))
            elif one == "shares":
                rows += list(shares)
            elif self.like is not None:
                index = self.like.index(pixels)
                rows += [index, index > self.like.threshold]
        return np.stack(rows).astype(np.float64)


def _least_share(stored: StoredClassifier, level: float) -> float:
    if stored.calibration is None:
        raise InputError(
            "No site could be held out when this classifier was trained, so that nothing can be "
            "promised of its shares. Draw two sites of a class at least, and train it again."
        )
    return stored.calibration.least_share(level)


def _require_like(stored: StoredClassifier) -> Applicability:
    if stored.applicability is None:
        raise InputError(
            "This classifier does not tell what it was trained on, so that nothing can be compared "
            "with it. Train it again."
        )
    return stored.applicability


def surety_bands(told: ToldClassifier, give: tuple[Given, ...]) -> tuple[Band, ...]:
    roles: list[str] = []
    for one in give:
        if one == "shares":
            roles += share_roles(told.classes).values()
        elif one == "unlike":
            roles += ["dissimilarity", "unlike"]
        else:
            roles.append(one)
    return tuple(Band(role) for role in roles)


def _open(raster: Raster, settings: SuretySettings, context: Context) -> Raster:
    if len(set(settings.give)) < len(settings.give):
        raise InputError("Each kind of layer can be asked for once.")
    stored = open_given(settings.classifier, context)
    require_fitting(raster, stored.told)
    signature = f"{settings.classifier.digest} {settings.give} {settings.level}"
    return DerivedRaster(
        raster,
        stored.told.roles,
        surety_bands(stored.told, settings.give),
        _Surety(stored, settings.give, settings.level),
        signature,
    )


def with_class_map(
    raster: Raster, stored: StoredClassifier, give: tuple[Given, ...], level: float, legend: Legend
) -> Raster:
    """The class map in the first band and after it what this operation gives, from one reading of
    a scene and one computation of the scores: for a run that keeps both.

    Raises
    ------
    InputError : the classifier does not know.
    """
    bands = (*class_bands(legend), *surety_bands(stored.told, give))
    compute = _Surety(stored, give, level, with_codes=True)
    return DerivedRaster(raster, stored.told.roles, bands, compute, "class map and surety")


SPEC = Operation(
    id="surety",
    version=1,
    station="classify",
    title="How sure",
    good_for="Where a class map can be trusted, and where another site would help.",
    source="Vovk, Gammerman & Shafer 2005; Meyer & Pebesma 2021",
    settings=SuretySettings,
    open=of_one(_open),
    say=lambda s: f"{' and '.join(WORDS[one] for one in s.give)} of “{s.classifier.name}”",
    name=lambda s: f"How sure is {s.classifier.name}",
    leaves_out=lambda s: s.excluded,
    apart=True,
    silent=frozenset({"classifier_id", "name"}),
)
