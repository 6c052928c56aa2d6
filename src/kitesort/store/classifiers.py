"""Trained classifiers of a study. A row never points at a file that is not complete."""

import logging
import os
from pathlib import Path

from pydantic import ValidationError

from kitesort.core.classify.onnx_file import unwrap
from kitesort.core.classify.reading import read_classifier
from kitesort.core.classify.stored import StoredClassifier, write_classifier
from kitesort.core.errors import NotFoundError
from kitesort.core.storage import put_in_place, require_space, temporary_beside
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id, texts_in_edits
from kitesort.store.files import classifier_folder
from kitesort.store.models import ClassifierRow
from kitesort.store.records import KeptClassifier
from kitesort.store.studies import fetch, get_study

MAX_NAME = 120

log = logging.getLogger(__name__)


def list_classifiers(study_id: int) -> list[KeptClassifier]:
    """Newest first; what cannot be read is left out."""
    found = []
    with transaction():
        rows = ClassifierRow.select().where(
            ClassifierRow.study_id == study_id, ~ClassifierRow.removed
        )
        for row in rows.order_by(ClassifierRow.id.desc()):
            try:
                found.append(KeptClassifier.model_validate(row))
            except ValidationError:
                log.warning("Classifier %s cannot be read and is not listed.", row.id)
    return found


def get_classifier(classifier_id: int) -> KeptClassifier:
    return fetch(ClassifierRow, KeptClassifier, classifier_id, "The classifier")


def next_classifier_id() -> int:
    """A number for a classifier that is trained, so that layers can name it before it is kept."""
    with transaction():
        return next_id("classifier")


def keep_classifier(
    study_id: int, name: str, stored: StoredClassifier, file: str, number: int | None = None
) -> KeptClassifier:
    """Record a classifier that a run has trained, in that run's transaction; ``number``: that was
    taken for it."""
    _write(file, write_classifier(stored))
    row = ClassifierRow.create(
        id=number or next_id("classifier"),
        study_id=study_id,
        name=name,
        told=stored.told.model_dump(mode="json"),
        path=file,
    )
    return get_classifier(row.id)


def classifier_content(classifier_id: int) -> bytes:
    """The file of a classifier, one that was taken out of the study, too: layers may be made of it.

    Raises
    ------
    NotFoundError
    """
    with transaction():
        row = ClassifierRow.get_or_none(ClassifierRow.id == classifier_id)
    if row is None:
        raise NotFoundError("The classifier does not exist any more. Train it again.")
    return _file(row.path).read_bytes()


def import_classifier(study_id: int, name: str, content: bytes) -> KeptClassifier:
    """A classifier from a file, read with care and written anew. Can be undone.

    Raises
    ------
    NotFoundError, BadClassifierError, BadSettingsError, DiskFullError
    """
    get_study(study_id)
    stored = read_classifier(unwrap(content))
    with transaction():
        made = next_id("classifier")
        file = f"classifier-{made}-{os.urandom(4).hex()}.zip"
        _write(file, write_classifier(stored))
        row = {
            "study_id": study_id, "name": name[:MAX_NAME], "path": file,
            "told": stored.told.model_dump(mode="json"),
        }  # fmt: skip
        apply_edit(study_id, f"Bring in {name}", [Change("classifier", made, None, row)])
    return get_classifier(made)


def rename_classifier(classifier_id: int, name: str) -> KeptClassifier:
    old = get_classifier(classifier_id)
    change = Change("classifier", classifier_id, {"name": old.name}, {"name": name})
    apply_edit(old.study_id, f"Rename {old.name}", [change])
    return get_classifier(classifier_id)


def remove_classifier(classifier_id: int) -> None:
    """Take it out of the study; its file stays, so that this can be undone."""
    old = get_classifier(classifier_id)
    change = Change("classifier", classifier_id, {"removed": False}, {"removed": True})
    apply_edit(old.study_id, f"Remove {old.name}", [change])


def open_classifier(classifier_id: int) -> StoredClassifier:
    """Read again from its file.

    Raises
    ------
    NotFoundError : the row or its file is gone. BadClassifierError
    """
    return read_classifier(classifier_file(classifier_id).read_bytes())


def classifier_file(classifier_id: int) -> Path:
    """Raises NotFoundError."""
    return _file(get_classifier(classifier_id).path)


def _file(name: str) -> Path:
    path = classifier_folder() / name
    if not path.is_file():
        raise NotFoundError("The classifier's file is not there any more. Train it again.")
    return path


def known_classifier_files() -> set[str]:
    """Of every row, and of those that undoing or redoing an edit may bring back."""
    with transaction():
        rows = {row.path for row in ClassifierRow.select(ClassifierRow.path)}
        return rows | texts_in_edits("classifier", "path")


def _write(file: str, content: bytes) -> None:
    path = classifier_folder() / file
    require_space(path.parent, len(content))
    with temporary_beside(path) as working:
        working.write_bytes(content)
        put_in_place(working, path)
