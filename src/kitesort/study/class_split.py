"""A class of two kinds made two classes."""

import numpy as np

from kitesort.core.errors import TrainingError
from kitesort.core.training.kinds import second_kind
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit
from kitesort.store.records import LandClass
from kitesort.store.scheme import get_class, list_classes, new_class
from kitesort.study.judging import judge


def split_class(class_id: int, scene_id: int, roles: tuple[str, ...]) -> LandClass:
    """Give the sites of a class that are of its second kind, by their pixels in a scene, to a new
    class beside it; as one edit. The new class.

    Raises
    ------
    NotFoundError, TrainingError
    """
    old = get_class(class_id)
    judged = judge(old.study_id, scene_id, roles)
    mine = [one for one in judged.sites if one.site.class_id == class_id]
    if not mine:
        raise TrainingError(f"{old.name} has no site with usable pixels.")
    pixels = [judged.pixels_of(one.site.id)[1].values for one in mine]
    means = np.array([values.mean(axis=0, dtype=np.float64) for values in pixels])
    second = second_kind(means, np.array([len(values) for values in pixels]))
    with transaction():
        classes = list_classes(old.study_id)
        name = _free_name(old.name, {c.name.casefold() for c in classes})
        made = new_class(
            old.study_id, classes, name, description=old.description, parent_id=old.parent_id
        )
        moved = [
            Change("site", one.site.id, {"class_id": class_id}, {"class_id": made.id})
            for one, is_second in zip(mine, second, strict=True)
            if is_second
        ]
        apply_edit(old.study_id, f"Split {old.name} in two", [made, *moved])
    return get_class(made.id)


def _free_name(name: str, taken: set[str]) -> str:
    number = 2
    while f"{name} {number}".casefold() in taken:
        number += 1
    return f"{name} {number}"
