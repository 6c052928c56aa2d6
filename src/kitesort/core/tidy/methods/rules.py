"""Classes put right by rule: where other layers say so."""

from dataclasses import dataclass
from functools import partial
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.grid import Window
from kitesort.core.legend import NODATA_CODE
from kitesort.core.operation import Context, Inputs, LayerRef, Operation, Parts, of_one
from kitesort.core.raster.class_codes import Codes, codes_in
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import (
    Block,
    BoolArray,
    Raster,
    Shape,
    band_positions,
    masked_block,
    require_same_grid,
)
from kitesort.core.settings import Settings, titled
from kitesort.core.tidy.methods._becomes import Becomes, legend_with
from kitesort.core.tidy.methods._codes import legend_of, require_known

MOST_RULES, MOST_CONDITIONS = 50, 10
Relation = Literal["below", "at most", "at least", "above", "is", "is not"]
_TESTS: dict[Relation, np.ufunc] = {
    "below": np.less,
    "at most": np.less_equal,
    "at least": np.greater_equal,
    "above": np.greater,
    "is": np.equal,
    "is not": np.not_equal,
}


class Condition(Settings):
    """A band of a layer beside a number; of a class map, a code."""

    layer: LayerRef
    relation: Relation = Field(json_schema_extra=titled({name: name for name in _TESTS}))
    value: float = Field(ge=-1e30, le=1e30)


class Rule(Settings):
    """Pixels of some classes (none named: of any), where all conditions hold."""

    classes: tuple[int, ...] = Field((), max_length=255)
    conditions: tuple[Condition, ...] = Field((), max_length=MOST_CONDITIONS)
    becomes: Becomes


class RulesSettings(Settings):
    rules: tuple[Rule, ...] = Field(
        (),
        max_length=MOST_RULES,
        title="Rules",
        description="The first one that holds for a pixel counts. Where a layer has no value, no "
        "condition on it holds; pixels without data stay without.",
        json_schema_extra={"widget": "rules"},
    )


@dataclass(frozen=True)
class _Ruled(OnSource):
    """``layers`` by id, all on the map's grid."""

    source: Raster
    layers: tuple[tuple[int, Raster], ...]
    rules: tuple[Rule, ...]

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(legend_with(legend_of(self.source), (r.becomes for r in self.rules)))

    def _told(self) -> tuple[str, ...]:
        others = (f"{i} {raster.fingerprint}" for i, raster in self.layers)
        told = (f"{r.classes} {r.conditions} {r.becomes.code}" for r in self.rules)
        return self.source.fingerprint, *others, *told

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        _ = band_positions(self.bands, roles)
        block = self.source.read(window, None, shape)
        codes = codes_in(block)
        first = self.first_rule(window, codes, shape)
        table = np.array([0, *(rule.becomes.code for rule in self.rules)], np.uint8)
        out = np.where(first > 0, table[first], codes)
        return masked_block(out[None].astype(np.float32), block.valid)

    def first_rule(self, window: Window, codes: Codes, shape: Shape | None = None) -> Codes:
        """By pixel (rows, cols) the number of the first rule that holds, from 1; 0 where none."""
        found = np.zeros(codes.shape, np.uint8)
        open_ = codes != NODATA_CODE
        values = self._values(window, shape)
        for number, rule in enumerate(self.rules, start=1):
            holds = open_ & np.isin(codes, rule.classes) if rule.classes else open_.copy()
            for one in rule.conditions:
                holds &= _holds(values[one.layer.scene_id, one.layer.role], one)
            found[holds] = number
            open_ &= ~holds
        return found

    def _values(
        self, window: Window, shape: Shape | None
    ) -> dict[tuple[int, str], npt.NDArray[np.float32]]:
        """Each band that a condition names, read once."""
        wanted: dict[int, dict[str, None]] = {}
        for one in (c for rule in self.rules for c in rule.conditions):
            wanted.setdefault(one.layer.scene_id, {})[one.layer.role] = None
        found = {}
        for layer_id, raster in self.layers:
            roles = tuple(wanted[layer_id])
            block = raster.read(window, roles, shape)
            found.update({(layer_id, role): v for role, v in zip(roles, block.values, strict=True)})
        return found


def _holds(values: npt.NDArray[np.float32], one: Condition) -> BoolArray:
    """Compared in single precision, in which pixels are kept: 0.1 is at most 0.1."""
    found = _TESTS[one.relation](values, np.float32(one.value))
    return np.asarray(found & ~np.isnan(values))


def _ruled(raster: Raster, settings: RulesSettings, context: Context) -> _Ruled:
    ids = dict.fromkeys(c.layer.scene_id for rule in settings.rules for c in rule.conditions)
    layers = {i: context.open_reference(i) for i in ids}
    for rule in settings.rules:
        require_known(raster, rule.classes, "Rules")
        for one in rule.conditions:
            band_positions(layers[one.layer.scene_id].bands, (one.layer.role,))
    for layer in layers.values():
        require_same_grid(raster, layer)
    legend_with(legend_of(raster), (rule.becomes for rule in settings.rules))
    return _Ruled(raster, tuple(layers.items()), settings.rules)


def _parts(inputs: Inputs, settings: RulesSettings, context: Context) -> Parts:
    (raster,) = inputs
    words = tuple(f"Rule {number}" for number, _ in enumerate(settings.rules, start=1))
    return Parts(words, partial(_first_in, _ruled(raster, settings, context)))


def _first_in(ruled: _Ruled, window: Window) -> Codes:
    return ruled.first_rule(window, codes_in(ruled.source.read(window)))


def _say(s: RulesSettings) -> str:
    n = len(s.rules)
    return f"{n} rule{'' if n == 1 else 's'} applied"


def _others(s: Any) -> tuple[int, ...]:
    return tuple(c.layer.scene_id for rule in s.rules for c in rule.conditions)


SPEC = Operation(
    id="rules",
    version=1,
    station="tidy",
    title="Rules",
    short="ruled",
    good_for="What is known better than the pixels say: no barley below the tide line, water "
    "wherever the index says so, one map put into another.",
    source="Conditions on other layers, the first rule that holds",
    settings=RulesSettings,
    open=of_one(_ruled),
    say=_say,
    others=_others,
    parts=_parts,
    takes=frozenset({"classes"}),
    silent=frozenset({"name", "colour"}),
)
