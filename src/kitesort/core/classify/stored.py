"""Trained classifiers as files: arrays and JSON in a zip archive, and nothing that could run.

The archive holds ``classifier.json`` and one ``NAME.npy`` (NumPy's open format) per array. Reading
trusts nothing: sizes are bounded before anything is unpacked, arrays of objects are refused, and
each method checks its own shapes and numbers.
"""

import io
import zipfile
import zlib
from dataclasses import dataclass
from tokenize import TokenError
from typing import Annotated, Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.applicability import Applicability
from kitesort.core.classify.arrays import no_classifier
from kitesort.core.classify.conformal import Calibration
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.errors import BadClassifierError
from kitesort.core.legend import MOST_CLASSES, ClassCode
from kitesort.core.outside_json import read_json
from kitesort.core.settings import Strict

MOST_FILE_BYTES = 64 * 2**20
LARGEST_BYTES = 256 * 2**20  # unpacked
MOST_ARRAYS = 200
TOLD = "classifier.json"
KINDS = "fiu"
WHEN = (1980, 1, 1, 0, 0, 0)


Word = Annotated[str, Field(max_length=120)]
Seed = Annotated[int, Field(ge=0, lt=2**63)]


class ToldClass(Strict):
    code: ClassCode
    name: str = Field(min_length=1, max_length=200)
    colour: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")


class ToldShare(Strict):
    code: ClassCode
    share: float = Field(ge=0, le=1)


class ToldCheck(Strict):
    """What five folds of whole sites said: mean share of the classes' pixels told right, with its
    95 % limits, and by class code. Of the sites, not of the ground."""

    n_folds: int = Field(ge=0, le=100)
    mean: float | None = Field(ge=0, le=1)
    low: float | None = Field(ge=0, le=1)
    high: float | None = Field(ge=0, le=1)
    classes: tuple[ToldShare, ...] = Field(max_length=MOST_CLASSES)


class ToldScene(Strict):
    """Of the scene that was trained on: its name, and each band's median, in the bands' order."""

    title: str = Field(max_length=200)
    medians: tuple[float, ...] = Field(max_length=500)


class ToldClusters(Strict):
    """How classes were found that nobody taught: the clustering method, how many pixels it looked
    at of how many usable ones, and what it did round by round."""

    method: str = Field(max_length=80)
    title: str = Field(max_length=120)
    version: int
    settings: dict[str, Any]
    seed: Seed
    n_sampled: int = Field(ge=0)
    n_usable: int = Field(ge=0)
    sizes: tuple[int, ...] = Field(max_length=MOST_CLASSES)
    rounds: tuple[Annotated[str, Field(max_length=1000)], ...] = Field(max_length=1000)


class DissimilarityInfo(Strict):
    """How dissimilarity is measured: with how many training pixels each pixel is compared, by how
    much the index is too large at most for not being compared with all, and the threshold beyond
    which a pixel is unlike them."""

    n_compared: int = Field(ge=1)
    error: float = Field(ge=0)
    threshold: float = Field(ge=0)


class ToldClassifier(Strict):
    """Where a classifier comes from, and what it is for: inputs by role and quantity."""

    format: Literal["kite-sort-classifier"] = "kite-sort-classifier"
    format_version: Literal[1] = 1
    method: str = Field(max_length=80)
    method_version: int
    settings: dict[str, Any]
    seed: Seed = 0
    roles: tuple[Word, ...] = Field(min_length=1, max_length=500)
    quantities: tuple[Word, ...] = Field(max_length=500)
    classes: tuple[ToldClass, ...] = Field(min_length=1, max_length=MOST_CLASSES)
    trained_on: str = Field(max_length=200)
    sentence: str = Field(max_length=20_000)
    check: ToldCheck | None = None
    scene: ToldScene | None = None
    clusters: ToldClusters | None = None
    dissimilarity: DissimilarityInfo | None = None


@dataclass(frozen=True)
class StoredClassifier:
    """A trained classifier with what is told of it, and what was learnt by holding sites out."""

    told: ToldClassifier
    model: TrainedClassifier
    calibration: Calibration | None = None
    applicability: Applicability | None = None

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        """All that is kept beside what is told."""
        parts = (self.calibration, self.applicability, self.model)
        return {name: array for part in parts if part for name, array in part.arrays().items()}


def write_classifier(stored: StoredClassifier) -> bytes:
    """The file's content; the same classifier gives the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        put_member(archive, TOLD, stored.told.model_dump_json(indent=1).encode())
        for name, array in sorted(stored.arrays().items()):
            content = io.BytesIO()
            np.lib.format.write_array(content, np.ascontiguousarray(array), allow_pickle=False)
            put_member(archive, f"{name}.npy", content.getvalue())
    return out.getvalue()


def put_member(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    """With a fixed time: the same content is the same file."""
    member = zipfile.ZipInfo(name, WHEN)
    member.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(member, content)


def read_told(content: bytes) -> tuple[ToldClassifier, dict[str, npt.NDArray[Any]]]:
    """What a file tells and holds; whether that is a classifier, its method says.

    Raises
    ------
    BadClassifierError
    """
    if len(content) > MOST_FILE_BYTES:
        raise BadClassifierError(
            f"A classifier's file has at most {MOST_FILE_BYTES // 2**20} MiB; this has more."
        )
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            members = archive.infolist()
            if len(members) > MOST_ARRAYS or sum(m.file_size for m in members) > LARGEST_BYTES:
                raise BadClassifierError("The classifier's file holds more than a classifier does.")
            told = ToldClassifier.model_validate(read_json(archive.read(TOLD)))
            arrays = {
                m.filename.removesuffix(".npy"): _read_array(archive.read(m))
                for m in members
                if m.filename != TOLD
            }
    except (zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, EOFError, OSError,
            RuntimeError, RecursionError) as error:  # fmt: skip
        raise no_classifier() from error
    except ValueError as error:
        if isinstance(error, BadClassifierError):
            raise
        raise no_classifier() from error
    return told, arrays


def _read_array(content: bytes) -> npt.NDArray[Any]:
    """The header may promise more than there is; the promise is bounded before it is believed."""
    stream = io.BytesIO(content)
    version = np.lib.format.read_magic(stream)
    read_header = {
        (1, 0): np.lib.format.read_array_header_1_0,
        (2, 0): np.lib.format.read_array_header_2_0,
    }.get(version)
    if read_header is None:
        raise ValueError("an unknown version of the format")
    try:
        shape, _, dtype = read_header(stream)
    except (SyntaxError, TokenError) as error:  # the library lets them through
        raise ValueError("a header that cannot be read") from error
    n_bytes = int(np.prod([int(n) for n in shape], dtype=object)) * dtype.itemsize
    if dtype.kind not in KINDS or n_bytes != len(content) - stream.tell():
        raise ValueError("no array of numbers")
    stream.seek(0)
    return np.asarray(np.lib.format.read_array(stream, allow_pickle=False))
