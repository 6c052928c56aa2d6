"""Classes put right by rule: where other layers say so."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.grid import Window
from kitesort.core.legend import MOST_CLASSES, NODATA_CODE, CodeArray, CodesOfTheMap
from kitesort.core.operation import Context, Inputs, LayerRef, Operation, Parts, of_one
from kitesort.core.raster.class_codes import flags, legend_of, require_codes
from kitesort.core.raster.protocol import BoolArray, Raster, band_positions, require_same_grid
from kitesort.core.settings import Settings, titled
from kitesort.core.tidy.methods._becomes import Becomes, DecidedRaster, Numbers, prepare_meant

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

    classes: CodesOfTheMap = Field((), max_length=MOST_CLASSES + 1)
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
class _FirstRule:
    """The first rule that holds. ``layers`` by id, all on the map's grid."""

    layers: tuple[tuple[int, Raster], ...]
    rules: tuple[Rule, ...]

    def __call__(self, window: Window, codes: CodeArray) -> Numbers:
        found = np.zeros(codes.shape, np.uint8)
        is_open = codes != NODATA_CODE
        values = self._values(window, codes.shape)
        for number, rule in enumerate(self.rules, start=1):
            holds = is_open & flags(rule.classes)[codes]
            for one in rule.conditions:
                holds &= _holds(values[one.layer.scene_id, one.layer.role], one)
            found[holds] = number
            is_open &= ~holds
        return found

    def _values(
        self, window: Window, shape: tuple[int, ...]
    ) -> dict[tuple[int, str], npt.NDArray[np.float32]]:
        """Each band that a condition names, read once."""
        found: dict[tuple[int, str], npt.NDArray[np.float32]] = {}
        for layer_id, raster in self.layers:
            named = (c.layer for r in self.rules for c in r.conditions)
            roles = tuple(dict.fromkeys(one.role for one in named if one.scene_id == layer_id))
            values = raster.read(window, roles, (shape[0], shape[1])).values
            found |= {(layer_id, role): band for role, band in zip(roles, values, strict=True)}
        return found


def _holds(values: npt.NDArray[np.float32], one: Condition) -> BoolArray:
    """Compared in single precision, in which pixels are kept: 0.1 is at most 0.1."""
    found = _TESTS[one.relation](values, np.float32(one.value))
    return np.asarray(found & ~np.isnan(values))


def _open(raster: Raster, settings: RulesSettings, context: Context) -> DecidedRaster:
    layers = {i: context.open_reference(i) for i in dict.fromkeys(_layers_in(settings))}
    for layer in layers.values():
        require_same_grid(raster, layer)
    for number, rule in enumerate(settings.rules, start=1):
        require_codes(legend_of(raster), rule.classes, f"Rule {number}")
        for one in rule.conditions:
            _require_meaning(layers[one.layer.scene_id], one, f"Rule {number}")
    becomes = tuple(rule.becomes for rule in settings.rules)
    others = (f"{i} {layer.fingerprint}" for i, layer in layers.items())
    told = (f"{r.classes} {r.conditions} {r.becomes.code}" for r in settings.rules)
    which = _FirstRule(tuple(layers.items()), settings.rules)
    return DecidedRaster(raster, becomes, which, (*others, *told), "Rules")


def _require_meaning(layer: Raster, one: Condition, what: str) -> None:
    """The band must be there, and a class that codes are compared with, too."""
    (position,) = band_positions(layer.bands, (one.layer.role,))
    if layer.bands[position].kind == "classes":
        require_codes(layer.bands[position].legend, [int(one.value)], what)


def _parts(inputs: Inputs, settings: RulesSettings, context: Context) -> Parts:
    (raster,) = inputs
    words = tuple(f"Rule {number}" for number, _ in enumerate(settings.rules, start=1))
    return Parts(words, _open(raster, settings, context).decided_by)


def _layers_in(settings: RulesSettings) -> tuple[int, ...]:
    return tuple(c.layer.scene_id for rule in settings.rules for c in rule.conditions)


def _say(s: RulesSettings) -> str:
    n = len(s.rules)
    return f"{n} rule{'' if n == 1 else 's'} applied"


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
    open=of_one(_open),
    prepare=prepare_meant(of_one(_open), "Rules"),
    say=_say,
    others=_layers_in,
    parts=_parts,
    takes=frozenset({"classes"}),
    silent=frozenset({"name", "colour"}),
)
