"""Trained classifiers to and from ONNX files with a card.

The file holds the graph, which any ONNX runtime can follow, and beside it, in its metadata, the
classifier as we keep it: brought in again, it is the same to the last digit. A graph of another
make is not followed here.
"""

import base64
import binascii
import io
import json
import zipfile
import zlib

from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.stored import (
    MOST_FILE_BYTES,
    StoredClassifier,
    put_member,
    write_classifier,
)
from kitesort.core.errors import BadClassifierError

MODEL = "classifier.onnx"
CARD = "card.json"
OURS = "kite_sort_classifier"
SIGN = b"PK"  # how an archive begins


def write_onnx(stored: StoredClassifier) -> bytes:
    """An archive of the model and its card: what each input must be, the classes, the first check.

    Raises
    ------
    BadClassifierError : a method that cannot be told as a graph.
    """
    told, model = stored.told, stored.model
    graph = Graph(len(told.roles))
    scores = model.graph(graph)
    ours = base64.b64encode(write_classifier(stored)).decode()
    content = graph.model(
        scores, model.codes, model.lowest, {OURS: ours, "inputs": ", ".join(told.roles)}
    )
    card = told.model_dump(mode="json") | {
        "input": "pixels: float32 (n, bands), in the order of the roles, in the quantities named",
        "output": "class: int64 (n,), 255 is unclassified; scores: float64 (n, classes)",
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, part in ((MODEL, content), (CARD, json.dumps(card, indent=1).encode())):
            put_member(archive, name, part)
    return out.getvalue()


def unwrap(content: bytes) -> bytes:
    """The classifier as we keep it, from whichever of our files: itself, an ONNX model, or the
    archive of one with its card.

    Raises
    ------
    BadClassifierError : an ONNX model of another make, or no model at all.
    """
    if content.startswith(SIGN):
        model = _model_in(content)
        return content if model is None else _ours_in(model)
    return _ours_in(content)


def _model_in(content: bytes) -> bytes | None:
    """None where the archive holds no ONNX model."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            if MODEL not in archive.namelist():
                return None
            if archive.getinfo(MODEL).file_size > 4 * MOST_FILE_BYTES:
                raise BadClassifierError("The model is larger than any that is made here.")
            return archive.read(MODEL)
    except (zipfile.BadZipFile, zlib.error, KeyError, NotImplementedError, EOFError, OSError,
            RuntimeError, ValueError) as error:  # fmt: skip
        if isinstance(error, BadClassifierError):
            raise
        return None  # the reader of classifiers says what is wrong with it


def _ours_in(content: bytes) -> bytes:
    from google.protobuf.message import DecodeError
    from onnx import ModelProto

    try:
        model = ModelProto.FromString(content)
        found = {prop.key: prop.value for prop in model.metadata_props}
        return base64.b64decode(found[OURS], validate=True)
    except (DecodeError, KeyError, binascii.Error, ValueError, RecursionError) as error:
        raise BadClassifierError(
            "This is no classifier that was trained here. ONNX models of another make do not say "
            "which band is which, and cannot be brought in; train one on sites instead."
        ) from error
