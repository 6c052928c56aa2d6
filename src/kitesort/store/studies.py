"""Studies and their reference points."""

from collections.abc import Sequence
from typing import Any, TypeVar

import peewee as pw

from kitesort.core.errors import DuplicateNameError, NotFoundError
from kitesort.store.database import transaction
from kitesort.store.models import PointRow, StudyRow, Table
from kitesort.store.records import Record, ReferencePoint, Study

R = TypeVar("R", bound=Record)


def fetch(table: type[Table], record: type[R], row_id: int, what: str) -> R:
    """One row by id as a record.

    Raises
    ------
    NotFoundError
    """
    with transaction():
        row = table.get_or_none(table.id == row_id)
    if row is None:
        raise NotFoundError(f"{what} is not there any more. Reload to see what is.")
    return record.model_validate(row)


def list_studies() -> list[Study]:
    with transaction():
        return [Study.model_validate(row) for row in StudyRow.select().order_by(StudyRow.id)]


def get_study(study_id: int) -> Study:
    return fetch(StudyRow, Study, study_id, "The study")


def create_study(name: str) -> Study:
    with transaction():
        if StudyRow.get_or_none(StudyRow.name == name):
            raise DuplicateNameError(f"There is a study called “{name}” already.")
        return Study.model_validate(StudyRow.create(name=name))


def update_study(
    study_id: int, *, name: str | None = None, view: dict[str, Any] | None = None
) -> Study:
    """Change the name, the view, or both.

    Raises
    ------
    NotFoundError, DuplicateNameError
    """
    changes: dict[str, Any] = {}
    if name is not None:
        changes["name"] = name
    if view is not None:
        changes["view"] = view
    get_study(study_id)
    if changes:
        try:
            with transaction():
                StudyRow.update(changes).where(StudyRow.id == study_id).execute()
        except pw.IntegrityError as error:
            raise DuplicateNameError(f"There is a study called “{name}” already.") from error
    return get_study(study_id)


def stored_crs(study_id: int) -> str | None:
    """The CRS that the study is shown in; None as long as it has no scene."""
    with transaction():
        row = StudyRow.select(StudyRow.crs).where(StudyRow.id == study_id).first()
        return row.crs if row else None


def store_crs(study_id: int, crs: str) -> None:
    with transaction():
        StudyRow.update(crs=crs).where(StudyRow.id == study_id).execute()


def add_points(study_id: int, points: Sequence[tuple[float, float, int]]) -> None:
    """Reference points (x, y, class code) in the CRS of the study's scenes."""
    rows = [{"study_id": study_id, "x": x, "y": y, "class_code": c} for x, y, c in points]
    with transaction():
        PointRow.insert_many(rows).execute()


def list_points(study_id: int) -> list[ReferencePoint]:
    with transaction():
        rows = PointRow.select().where(PointRow.study_id == study_id).order_by(PointRow.id)
        return [ReferencePoint.model_validate(row) for row in rows]
