"""What an operation is, of whatever family: settings, words, a preparation, a lazy raster.

Corrections, combinations, derivations, class breaks and classification are one thing told apart by
the station that offers them; a recipe's nodes name them, and one function opens them all.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.bands import Kind
from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.engine import Watch
from kitesort.core.errors import InputError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings

MOST_MEMBERS = 200  # scenes made into one
LARGEST_AT_ONCE = 2_000_000  # pixels of which every one may be counted while a user waits

LayerOpener = Callable[[int, tuple[str, ...]], Raster]
ClassifierReader = Callable[[int], bytes]


def no_classifiers(_: int) -> bytes:
    """For what is opened outside of a study."""
    raise InputError("There is no trained classifier here.")


class LayerRef(Settings):
    """A band of a layer, by the layer's id."""

    scene_id: int
    role: str = Field(max_length=64)


@dataclass(frozen=True)
class Context:
    """What an operation may need beside its inputs: other layers by id, the delivery that its first
    input stems from (None for one combined of several, or derived), the quality flags left out, all
    layers of the study by name, what is known of the sensor, and trained classifiers' files."""

    opener: LayerOpener
    delivery: DeliveredScene | None = None
    excluded: tuple[str, ...] = DEFAULT_EXCLUDED
    layers: Mapping[str, LayerRef] = field(default_factory=dict)
    sensor: str | None = None
    read_classifier: ClassifierReader = no_classifiers

    def open_layer(self, layer_id: int) -> Raster:
        """Another layer, without the pixels that the inputs are without."""
        return self.opener(layer_id, self.excluded)

    def open_reference(self, layer_id: int) -> Raster:
        """Another layer as it is used, however the inputs are looked at."""
        return self.opener(layer_id, DEFAULT_EXCLUDED)

    def require_delivery(self, what: str) -> DeliveredScene:
        """Raises InputError for a scene that was combined of several, or derived."""
        if self.delivery is None:
            raise InputError(f"A scene combined of several, or derived, has no {what} of its own.")
        return self.delivery


Station = Literal["correct", "combine", "derive", "classify", "tidy"]
Family = Literal["values", "haze", "mask", "place", "norm", "names"]
Inputs = tuple[Raster, ...]


@dataclass(frozen=True)
class Parts:
    """Parts of an operation's settings (rules, edits) in words, and which of them made each pixel
    of a window what it is: numbers (rows, cols) uint8, from 1; 0 where none did."""

    words: tuple[str, ...]
    which: Callable[[Window], npt.NDArray[np.uint8]]


Open = Callable[[Inputs, Any, Context], Raster]
Prepare = Callable[[Inputs, Any, Context, Watch], Settings]


def nothing_to_find(
    _inputs: Inputs, settings: Settings, _context: Context, _watch: Watch
) -> Settings:
    """For operations whose settings are complete as they are."""
    return settings


def of_one(act: Callable[..., Any]) -> Callable[..., Any]:
    """An ``open`` or a ``prepare`` that takes a single raster, for an operation with one input."""

    def act_on_first(inputs: Inputs, *rest: Any) -> Any:
        (raster,) = inputs
        return act(raster, *rest)

    return act_on_first


@dataclass(frozen=True)
class Operation:
    """An operation as it appears in the API, the form, the recipe and the guide.

    ``open`` makes a lazy raster of the inputs. ``prepare`` turns settings that leave something open
    (a dark value to be found) into settings that do not, so that the recipe holds the numbers that
    were used. ``say`` words it in a sentence.

    Of a step, which makes an input better and leaves it what it is, ``short`` words it at the end
    of a title; anything else gives something new, which ``name`` calls.

    ``takes``: kinds of bands that it can work on. ``most_inputs``: rasters that it is applied to;
    further layers, whose ids the settings hold, are named by ``others``. ``first_of`` names the
    layer whose grid counts where the settings decide that, else None.

    ``leaves_out`` names quality flags whose pixels are left out where the delivery is opened,
    wherever in the chain the operation stands: the quality band lies where the delivery does.

    ``is_slow`` says whether preparing takes a run of its own on a large scene. ``native_side``, of
    one that looks at a pixel's neighbours, and so at native resolution: the side of the square of
    as many pixels as it shows at once. ``keeps_units``: its bands are the input's own, made better.
    ``family``: corrections that do the same kind of thing. ``otherwise``: of a correction that
    needs the factors of the metadata, the one that does without. ``apart``: its bands answer
    different questions, and are looked at one at a time. ``silent``: settings, at
    any depth, that are words and colours and make no pixels. ``parts``: of one with parts that
    touch some pixels each, which did.
    """

    id: str
    version: int
    station: Station
    title: str
    good_for: str
    source: str
    settings: type[Settings]
    open: Open
    say: Callable[[Any], str]
    prepare: Prepare = nothing_to_find
    short: str = ""
    name: Callable[[Any], str] = field(default=lambda _: "")
    family: Family | None = None
    takes: frozenset[Kind] = frozenset({"measured"})
    most_inputs: int = 1
    others: Callable[[Any], tuple[int, ...]] = field(default=lambda _: ())
    first_of: Callable[[Any], int | None] = field(default=lambda _: None)
    leaves_out: Callable[[Any], tuple[str, ...]] = field(default=lambda _: ())
    is_slow: Callable[[Any], bool] = field(default=lambda _: False)
    native_side: int | None = None
    keeps_units: bool = False
    otherwise: str | None = None
    apart: bool = False
    silent: frozenset[str] = frozenset()
    parts: Callable[[Inputs, Any, Context], Parts] | None = None

    @property
    def is_step(self) -> bool:
        """It makes its input better: the result has its delivery, its flags and its title."""
        return self.station in ("correct", "tidy")

    @property
    def is_local(self) -> bool:
        """It looks at a pixel's neighbours, and so at native resolution only."""
        return self.native_side is not None


ANY_KIND: frozenset[Kind] = frozenset({"measured", "classes"})
