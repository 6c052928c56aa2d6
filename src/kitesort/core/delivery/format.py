"""What a way of delivering scenes is to the program, and the registry of those ways."""

from collections.abc import Callable
from dataclasses import dataclass, field

from kitesort.core.delivery.inventory import FoundFile, Inventory
from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.errors import UnreadableFileError


@dataclass(frozen=True)
class Recognised:
    """A scene that was found. ``questions`` must be answered before it can be taken;
    ``taken`` are the paths of all files that belong to it."""

    scene: DeliveredScene
    taken: frozenset[str]
    questions: tuple[str, ...] = ()


@dataclass(frozen=True)
class Findings:
    """Recognised scenes, and in words what could not be understood."""

    scenes: tuple[Recognised, ...] = ()
    problems: tuple[str, ...] = ()
    taken: frozenset[str] = field(default_factory=frozenset)


def recognise_each(
    inventory: Inventory,
    is_metadata: Callable[[FoundFile], bool],
    read: Callable[[Inventory, FoundFile], Recognised | None],
    belongings: Callable[[Inventory, FoundFile], frozenset[str]],
) -> Findings:
    """A scene for every metadata file; one that cannot be read becomes a sentence, and what belongs
    to it is offered as nothing else."""
    scenes, problems = [], []
    spoilt = frozenset[str]()
    for file in filter(is_metadata, inventory.files):
        try:
            found = read(inventory, file)
        except UnreadableFileError as error:
            problems.append(error.sentence)
            spoilt |= belongings(inventory, file)
            continue
        if found is not None:
            scenes.append(found)
    taken = spoilt.union(*(s.taken for s in scenes))
    return Findings(tuple(scenes), tuple(problems), taken)


@dataclass(frozen=True)
class DeliveryFormat:
    """A way of delivering; ``recognise`` looks only at the files that nobody took before."""

    id: str
    title: str
    recognise: Callable[[Inventory], Findings]
