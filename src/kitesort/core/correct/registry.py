"""All corrections and combinations by id."""

from kitesort.core.correct import combinations, methods
from kitesort.core.correct.protocol import CombinationSpec, CorrectionSpec
from kitesort.core.registry import Registry

CORRECTIONS: Registry[CorrectionSpec] = Registry(methods, CorrectionSpec)
COMBINATIONS: Registry[CombinationSpec] = Registry(combinations, CombinationSpec)
