"""The class scheme of a study in the words of files."""

from kitesort.core.training.scheme_file import TakenClass
from kitesort.store.scheme import list_classes


def taken_classes(study_id: int) -> list[TakenClass]:
    """All classes of a study, parents by name."""
    classes = list_classes(study_id)
    names = {c.id: c.name for c in classes}
    return [
        TakenClass(
            c.name, c.code, c.colour, c.description,
            None if c.parent_id is None else names.get(c.parent_id),
        )
        for c in classes
    ]  # fmt: skip
