"""Which sites never train, so that they can be tested on."""

from collections.abc import Mapping, Sequence

import numpy as np

from kitesort.core.errors import BadSettingsError


def choose_aside(sites: Mapping[int, Sequence[int]], share: float, seed: int) -> list[int]:
    """Of each class's sites (ids by class code) about a share, at random: at least one where the
    class has three or more, and never so many that fewer than two train.

    Raises
    ------
    BadSettingsError : a share that is none.
    """
    if not 0 < share < 1:
        raise BadSettingsError("The share of sites to set aside lies between 0 and 1.")
    chosen: list[int] = []
    for code in sorted(sites):
        ids = sorted(sites[code])
        n = max(round(share * len(ids)), 1 if len(ids) >= 3 else 0)
        n = min(n, max(len(ids) - 2, 0))
        drawn = np.random.default_rng([seed, code]).permutation(len(ids))[:n]
        chosen += [ids[i] for i in sorted(drawn)]
    return chosen
