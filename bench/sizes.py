"""How large the data is that the bench measures on."""

import os
from typing import TypeVar

TINY = "KITESORT_BENCH_TINY"
T = TypeVar("T")


def size(full: T, tiny: T) -> T:
    """``full``, or ``tiny`` where the environment asks for it.

    Tiny sizes show in seconds that every row runs; their numbers mean nothing. Programs that a row
    starts inherit the environment, and with it the size.
    """
    return tiny if os.environ.get(TINY) else full
