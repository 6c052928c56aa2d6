"""Steps of tidying, one file each."""

from kitesort.core.operation import Operation
from kitesort.core.registry import Registry
from kitesort.core.tidy import methods

TIDYINGS: Registry[Operation] = Registry(methods, Operation)
