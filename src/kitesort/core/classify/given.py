"""A trained classifier that settings name, and what it is put on."""

import hashlib

from pydantic import Field

from kitesort.core.classify.reading import read_classifier
from kitesort.core.classify.stored import StoredClassifier, ToldClassifier
from kitesort.core.errors import BadClassifierError, InputError
from kitesort.core.legend import UNCLASSIFIED, Legend, LegendEntry
from kitesort.core.newest import remembered
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster, band_positions
from kitesort.core.settings import Settings

KEPT_OPEN = 8


class GivenClassifier(Settings):
    """A trained classifier of the study: by number, and by a digest of its file, which says which
    pixels come out; its name, method and bands are for people."""

    classifier_id: int
    digest: str = Field(max_length=64)
    name: str = Field(max_length=200)
    method: str = Field(max_length=80)


def digest_of(content: bytes) -> str:
    return hashlib.blake2s(content, digest_size=16).hexdigest()


def given_of(
    classifier_id: int, content: bytes, name: str, told: ToldClassifier
) -> GivenClassifier:
    """A classifier as settings name it, by its number and its file."""
    digest = digest_of(content)
    return GivenClassifier(
        classifier_id=classifier_id, digest=digest, name=name, method=told.method
    )


def open_given(given: GivenClassifier, context: Context) -> StoredClassifier:
    """Raises NotFoundError : it is gone. BadClassifierError : it is another one by now."""
    content = context.read_classifier(given.classifier_id)
    if digest_of(content) != given.digest:
        raise BadClassifierError(f"The file of “{given.name}” is not what it was. Train it again.")
    return _read(content)


@remembered(KEPT_OPEN)
def _read(content: bytes) -> StoredClassifier:
    """Remembered: every tile asks for it."""
    return read_classifier(content)


def require_fitting(raster: Raster, told: ToldClassifier) -> None:
    """Every band that was trained on must be there, and mean the same.

    Raises
    ------
    MissingRoleError : a band is missing. InputError : values of another quantity.
    """
    bands = [raster.bands[p] for p in band_positions(raster.bands, told.roles)]
    for band, trained in zip(bands, told.quantities, strict=True):
        if band.quantity != trained:
            raise InputError(
                f"Band {band.role} was trained on as {trained}, and is {band.quantity} here. "
                "Correct the scene in the same way as the one that was trained on."
            )


def legend_of(told: ToldClassifier) -> Legend:
    entries = (LegendEntry(c.code, c.name, c.colour) for c in told.classes)
    return (*entries, UNCLASSIFIED)
