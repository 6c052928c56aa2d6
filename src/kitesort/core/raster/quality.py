"""Quality bands: which bits say what, and which pixels a meaning applies to."""

from collections.abc import Iterable

import numpy as np
import numpy.typing as npt
from pydantic import BaseModel, ConfigDict, Field


class QualityFlag(BaseModel):
    """A meaning of a quality band's value: ``n_bits`` bits from ``first_bit`` hold one of
    ``values``. A band of class codes is one field of eight bits."""

    model_config = ConfigDict(frozen=True)

    name: str
    first_bit: int = Field(ge=0, le=31)
    n_bits: int = Field(1, ge=1, le=16)
    values: tuple[int, ...] = (1,)

    def applies_to(self, numbers: npt.NDArray[np.uint32]) -> npt.NDArray[np.bool_]:
        """True where the field holds one of the values; any shape."""
        field = (numbers >> np.uint32(self.first_bit)) & np.uint32((1 << self.n_bits) - 1)
        if len(self.values) == 1:
            return np.asarray(field == np.uint32(self.values[0]))
        return np.isin(field, np.asarray(self.values, np.uint32))


def flagged(
    numbers: npt.NDArray[np.generic], flags: Iterable[QualityFlag]
) -> npt.NDArray[np.bool_]:
    """True where any of the meanings applies; numbers as they are stored in the file, so that all
    32 bits are there."""
    whole = numbers.astype(np.uint32)
    out = np.zeros(whole.shape, np.bool_)
    for flag in flags:
        out |= flag.applies_to(whole)
    return out
