"""Which class each cluster of a map is; every change of it can be undone."""

from collections.abc import Mapping

from kitesort.core.errors import InputError
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id
from kitesort.store.layers import get_layer
from kitesort.store.models import ClusterNameRow
from kitesort.store.scheme import list_classes


def names_of(layer_id: int) -> dict[int, int]:
    """Class ids by cluster code; a class that is gone names nothing."""
    known = {one.id for one in list_classes(get_layer(layer_id).study_id)}
    return {code: row.class_id for code, row in _rows(layer_id).items() if row.class_id in known}


def name_clusters(layer_id: int, wanted: Mapping[int, int | None], title: str) -> None:
    """Give clusters classes, or take them back with None, as one edit.

    Raises
    ------
    NotFoundError. InputError : a class of another study.
    """
    study_id = get_layer(layer_id).study_id
    known = {one.id for one in list_classes(study_id)}
    if any(class_id not in known for class_id in wanted.values() if class_id is not None):
        raise InputError("That class is not in this study's class scheme.")
    with transaction():
        there = _rows(layer_id)
        changes = [_change(study_id, layer_id, code, one, there) for code, one in wanted.items()]
        apply_edit(study_id, title, [change for change in changes if change is not None])


def first_names(study_id: int, layer_id: int, names: Mapping[int, int]) -> None:
    """Those that a layer begins with, in the transaction that records it."""
    for code, class_id in names.items():
        ClusterNameRow.create(study_id=study_id, layer_id=layer_id, code=code, class_id=class_id)


def _rows(layer_id: int) -> dict[int, ClusterNameRow]:
    with transaction():
        return {
            row.code: row
            for row in ClusterNameRow.select().where(ClusterNameRow.layer_id == layer_id)
        }


def _change(
    study_id: int, layer_id: int, code: int, class_id: int | None, there: dict[int, ClusterNameRow]
) -> Change | None:
    row = there.get(code)
    values = {"study_id": study_id, "layer_id": layer_id, "code": code}
    if row is None:
        if class_id is None:
            return None
        after = {**values, "class_id": class_id}
        return Change("cluster name", next_id("cluster name"), None, after)
    if class_id is None:
        return Change("cluster name", row.id, {**values, "class_id": row.class_id}, None)
    return Change("cluster name", row.id, {"class_id": row.class_id}, {"class_id": class_id})
