"""All derivations by id."""

from kitesort.core.derive import methods
from kitesort.core.derive.protocol import DerivationSpec
from kitesort.core.registry import Registry

DERIVATIONS: Registry[DerivationSpec] = Registry(methods, DerivationSpec)
