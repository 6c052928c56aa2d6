"""Every operation there is, of all families, by id: what a recipe's nodes name."""

from collections.abc import Iterator, Mapping

from kitesort.core.classify import operations
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.errors import NotFoundError
from kitesort.core.operation import Operation
from kitesort.core.registry import Registry
from kitesort.core.tidy.registry import TIDYINGS

MAPPINGS: Registry[Operation] = Registry(operations, Operation)
FAMILIES = (CORRECTIONS, COMBINATIONS, DERIVATIONS, MAPPINGS, TIDYINGS)


class _AllOperations(Mapping[str, Operation]):
    """Looked up when it is asked: what is added to a family is here at once."""

    def __getitem__(self, key: str) -> Operation:
        for family in FAMILIES:
            if key in family:
                return family[key]
        raise NotFoundError(
            f"There is no operation called “{key}” here. The layer was made by another version of "
            "the program: use that, or make the layer again."
        )

    def __contains__(self, key: object) -> bool:
        return any(key in family for family in FAMILIES)

    def __iter__(self) -> Iterator[str]:
        return (key for family in FAMILIES for key in family)

    def __len__(self) -> int:
        return sum(len(family) for family in FAMILIES)


OPERATIONS = _AllOperations()
_ids = list(OPERATIONS)
if len(set(_ids)) < len(_ids):
    raise TypeError(f"Two families have an operation of the same id: {sorted(_ids)}")
