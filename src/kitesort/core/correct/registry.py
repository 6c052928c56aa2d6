"""All corrections and combinations by id."""

from kitesort.core.correct import combinations, methods
from kitesort.core.operation import Operation
from kitesort.core.registry import Registry

CORRECTIONS: Registry[Operation] = Registry(methods, Operation)
COMBINATIONS: Registry[Operation] = Registry(combinations, Operation)
