"""What a way of delivering scenes is to the program, and the registry of those ways."""

from collections.abc import Callable
from dataclasses import dataclass, field

from kitesort.core.delivery.inventory import Inventory
from kitesort.core.delivery.scene import DeliveredScene


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


@dataclass(frozen=True)
class DeliveryFormat:
    """A way of delivering; ``recognise`` looks only at the files that nobody took before."""

    id: str
    title: str
    recognise: Callable[[Inventory], Findings]
