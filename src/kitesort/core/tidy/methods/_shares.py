"""The shares of a map's classes, from another layer."""

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import UNCLASSIFIED_CODE, share_roles
from kitesort.core.operation import Context
from kitesort.core.raster.class_codes import legend_of
from kitesort.core.raster.protocol import Float32Array, Raster, require_same_grid


class MayChooseShares(Protocol):
    """Settings of a step that does without shares where none are chosen."""

    @property
    def shares_id(self) -> int | None: ...


@dataclass(frozen=True)
class Shares:
    """A layer and its bands by class code."""

    layer: Raster
    roles: tuple[tuple[int, str], ...]

    @property
    def signature(self) -> str:
        return f"{self.layer.fingerprint} {self.roles}"

    @property
    def codes(self) -> tuple[int, ...]:
        return tuple(code for code, _ in self.roles)

    def read(self, window: Window) -> Float32Array:
        """Shares (classes, rows, cols) in the order of the codes, not a number where there are
        none."""
        values = self.layer.read(window, tuple(role for _, role in self.roles)).values
        return np.ascontiguousarray(values)

    def read_for(self, codes: tuple[int, ...], window: Window) -> Float32Array:
        """The same in the order of other codes; not a number for those that have none."""
        known = self.read(window)
        found = np.full((len(codes), *known.shape[1:]), np.nan, np.float32)
        for place, code in enumerate(codes):
            if code in self.codes:
                found[place] = known[self.codes.index(code)]
        return found


def shares_chosen(settings: MayChooseShares) -> tuple[int, ...]:
    """Ids of what else a step reads."""
    return () if settings.shares_id is None else (settings.shares_id,)


def open_chosen(raster: Raster, settings: MayChooseShares, context: Context) -> Shares | None:
    """The shares where a layer of them is chosen. Raises as ``open_shares``."""
    chosen = settings.shares_id
    return None if chosen is None else open_shares(raster, chosen, context)


def open_shares(raster: Raster, layer_id: int, context: Context) -> Shares:
    """Raises BadSettingsError : the layer holds no shares of this map's classes. InputError : it
    lies on other pixels."""
    layer = context.open_reference(layer_id)
    require_same_grid(raster, layer)
    named = share_roles(e for e in legend_of(raster) if e.code != UNCLASSIFIED_CODE)
    there = {band.role for band in layer.bands if band.kind == "measured"}
    if missing := [role for role in named.values() if role not in there]:
        raise BadSettingsError(
            "The layer chosen does not hold the shares of this map's classes: there is no "
            f"{missing[0]} in it. Choose the one that was made of the same classifier."
        )
    return Shares(layer, tuple(named.items()))
