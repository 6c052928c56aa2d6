"""From a folder of files to scenes: known deliveries first, then what is left over."""

from kitesort.core.delivery import formats
from kitesort.core.delivery.format import DeliveryFormat, Findings, Recognised
from kitesort.core.delivery.inventory import Inventory
from kitesort.core.delivery.loose_files import recognise_loose_files
from kitesort.core.registry import Registry

FORMATS: Registry[DeliveryFormat] = Registry(formats, DeliveryFormat)


def recognise(inventory: Inventory) -> Findings:
    """All scenes of a folder, and what could not be understood, in words."""
    scenes: list[Recognised] = []
    problems: list[str] = []
    taken: set[str] = set()
    for spec in FORMATS.values():
        found = spec.recognise(without(inventory, taken))
        scenes += found.scenes
        problems += found.problems
        taken |= found.taken
    rest = without(inventory, taken)
    loose = recognise_loose_files(rest)
    problems += [f.problem for f in inventory.files if f.problem]
    return Findings(tuple(scenes) + loose.scenes, tuple(problems), frozenset(taken | loose.taken))


def without(inventory: Inventory, taken: set[str]) -> Inventory:
    rest = tuple(f for f in inventory.files if f.path not in taken)
    return Inventory(inventory.root, rest, inventory.title)
