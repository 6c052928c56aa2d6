"""All derivations by id."""

from kitesort.core.derive import methods
from kitesort.core.operation import Operation
from kitesort.core.registry import Registry

DERIVATIONS: Registry[Operation] = Registry(methods, Operation)
