"""How a layer came to be, as data: a tree whose leaves are delivered files and other layers, and
whose nodes are operations with settings that leave nothing open."""

import hashlib
import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, TypeAdapter, ValidationError

from kitesort.core.bands import Kind
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.operation import (
    ClassifierReader,
    Context,
    LayerOpener,
    LayerRef,
    Operation,
    no_classifiers,
)
from kitesort.core.operations import OPERATIONS
from kitesort.core.raster.protocol import Raster, kind_of
from kitesort.core.settings import FreshCopies, describe_invalid, validate_settings

MAX_STEPS = 30
MAX_INPUTS = 265
KIND_WORDS: dict[Kind, str] = {"measured": "measured bands", "classes": "class codes"}


class _Model(FreshCopies):
    model_config = ConfigDict(frozen=True, extra="forbid")


class DeliveredLeaf(_Model):
    """As a provider delivered it."""

    kind: Literal["delivered"] = "delivered"
    delivery: DeliveredScene


class LayerLeaf(_Model):
    """Another layer of the study; the name is for people."""

    kind: Literal["layer"] = "layer"
    layer_id: int
    name: str


class Node(_Model):
    """An operation: of ``inputs`` the first ones are what it is applied to, the others are further
    layers that its settings name."""

    kind: Literal["operation"] = "operation"
    operation: str
    version: int
    settings: dict[str, Any]
    inputs: tuple["Recipe", ...] = Field(min_length=1, max_length=MAX_INPUTS)

    @property
    def spec(self) -> Operation:
        """Raises NotFoundError for one that is not known here."""
        return OPERATIONS[self.operation]

    @cached_property
    def checked(self) -> Any:
        """The settings as the operation's own model; checked once, since they never change.

        Raises
        ------
        NotFoundError, BadSettingsError : of another version, or none of its settings.
        """
        if self.version != self.spec.version:
            raise BadSettingsError(
                f"The recipe is for version {self.version} of “{self.spec.title}”; this is version "
                f"{self.spec.version}. Make the layer again."
            )
        return validate_settings(self.spec, self.settings)

    @property
    def applied_to(self) -> tuple["Recipe", ...]:
        return self.inputs[: self.spec.most_inputs]

    @property
    def words(self) -> str:
        return self.spec.say(self.checked)


Recipe = Annotated[DeliveredLeaf | LayerLeaf | Node, Field(discriminator="kind")]
Node.model_rebuild()
_RECIPES: TypeAdapter[DeliveredLeaf | LayerLeaf | Node] = TypeAdapter(Recipe)


def read_recipe(told: Any) -> Recipe:
    """A recipe from data.

    Raises
    ------
    BadSettingsError : it is none, or one of another version of the program.
    """
    try:
        return _RECIPES.validate_python(told)
    except ValidationError as error:
        raise BadSettingsError(
            "The layer's recipe cannot be read: it is damaged, or was written by another version "
            f"of the program ({describe_invalid(error)})"
        ) from error


def chain_of(recipe: Recipe) -> tuple[Recipe, tuple[Node, ...]]:
    """What steps were made on, and the steps since, the earliest first."""
    steps: list[Node] = []
    while isinstance(recipe, Node) and _is_step(recipe):
        steps.append(recipe)
        recipe = recipe.inputs[0]
    return recipe, tuple(reversed(steps))


def _is_step(node: Node) -> bool:
    """An operation that is not known here is none."""
    return node.operation in OPERATIONS and node.spec.is_step


def source_of(recipe: Recipe) -> Recipe:
    """What steps were made on."""
    return chain_of(recipe)[0]


def leaves_of(recipe: Recipe) -> Iterator[DeliveredLeaf | LayerLeaf]:
    """From the first input on."""
    if isinstance(recipe, Node):
        for part in recipe.inputs:
            yield from leaves_of(part)
    else:
        yield recipe


def layers_in(recipe: Recipe) -> tuple[int, ...]:
    """Ids of the layers that a recipe is made of, patterns of its steps among them."""
    found = (leaf.layer_id for leaf in leaves_of(recipe) if isinstance(leaf, LayerLeaf))
    return tuple(dict.fromkeys(found))


def parents_of(recipe: Recipe) -> tuple[int, ...]:
    """Ids of the layers whose pixels become those of this one: patterns of steps are none."""
    source = source_of(recipe)
    return layers_in(source) if not isinstance(source, DeliveredLeaf) else ()


def fingerprint(recipe: Recipe) -> str:
    """Of the pixels that come out: titles, names and colours make no other ones."""
    return _hash(_pixels_of(recipe))


def _pixels_of(recipe: Recipe) -> Any:
    if isinstance(recipe, LayerLeaf):
        return recipe.layer_id
    if isinstance(recipe, DeliveredLeaf):
        return recipe.delivery.model_dump(mode="json", exclude={"name"})
    silent = recipe.spec.silent if recipe.operation in OPERATIONS else frozenset[str]()
    settings = _without(silent, recipe.settings)
    return [recipe.operation, recipe.version, settings, *map(_pixels_of, recipe.inputs)]


def _without(silent: frozenset[str], told: Any) -> Any:
    if isinstance(told, dict):
        return {key: _without(silent, one) for key, one in told.items() if key not in silent}
    return [_without(silent, one) for one in told] if isinstance(told, list | tuple) else told


def _hash(told: Any) -> str:
    text = json.dumps(told, sort_keys=True)
    return hashlib.blake2s(text.encode(), digest_size=16).hexdigest()


def as_data(recipe: Recipe) -> dict[str, Any]:
    data: dict[str, Any] = recipe.model_dump(mode="json")
    return data


def portable(recipe: Recipe) -> str:
    """The recipe as JSON for files that leave the house: files by name, no folder of ours."""
    return json.dumps(_without_folders(as_data(recipe)), ensure_ascii=False)


def _without_folders(told: dict[str, Any]) -> dict[str, Any]:
    if told["kind"] == "delivered":
        return told | {"delivery": told["delivery"] | {"folder": ""}}
    if told["kind"] == "operation":
        return told | {"inputs": [_without_folders(part) for part in told["inputs"]]}
    return told


def sentence_of(recipe: Recipe) -> str:
    """The recipe in words, as it stands above a pane and in the exported file."""
    source, steps = chain_of(recipe)
    return f"{_words_of(source)}{''.join(f'; {step.words}' for step in steps)}."


def _words_of(recipe: Recipe) -> str:
    if isinstance(recipe, LayerLeaf):
        return recipe.name
    if isinstance(recipe, DeliveredLeaf):
        delivery = recipe.delivery
        bands = f"{len(delivery.used_bands)} bands ({', '.join(delivery.roles)})"
        return f"{delivery.name} of {delivery.sensor} as {delivery.quantity_words}, {bands}"
    inner = [_words_of(source_of(part)) for part in recipe.inputs]
    said = recipe.words
    if recipe.spec.station == "derive":
        return f"{said}, of {', '.join(inner)}"
    if recipe.spec.station == "classify":
        return f"{' and '.join(inner)} {said}"
    return f"{said[0].upper()}{said[1:]} {', '.join(inner)}"


@dataclass(frozen=True)
class LayerReader:
    """What a recipe needs of a study: other layers by id, the delivery each stems from, and the
    files of trained classifiers by id."""

    open_layer: LayerOpener
    delivery_of: Callable[[int], DeliveredScene | None]
    read_classifier: ClassifierReader = no_classifiers


def delivery_behind(recipe: Recipe, reader: LayerReader) -> DeliveredScene | None:
    """The delivery that a layer stems from; None for one combined of several, or derived."""
    source = source_of(recipe)
    if isinstance(source, DeliveredLeaf):
        return source.delivery
    return reader.delivery_of(source.layer_id) if isinstance(source, LayerLeaf) else None


def open_recipe(
    recipe: Recipe, reader: LayerReader, excluded: tuple[str, ...] = DEFAULT_EXCLUDED
) -> Raster:
    """The layer as a lazy raster; ``excluded`` names quality flags whose pixels are not valid.

    Raises
    ------
    NotFoundError : an operation that is not known here.
    InputError : an operation that cannot be done on what is before it.
    """
    left_out = (name for node in _nodes(recipe) for name in node.spec.leaves_out(node.checked))
    return _open(recipe, reader, tuple(dict.fromkeys((*excluded, *left_out))))


def _nodes(recipe: Recipe) -> Iterator[Node]:
    if isinstance(recipe, Node):
        yield recipe
        for part in recipe.inputs:
            yield from _nodes(part)


def _open(recipe: Recipe, reader: LayerReader, excluded: tuple[str, ...]) -> Raster:
    if isinstance(recipe, DeliveredLeaf):
        return open_delivery(recipe.delivery, excluded)
    if isinstance(recipe, LayerLeaf):
        return reader.open_layer(recipe.layer_id, excluded)
    inputs = tuple(_open(part, reader, excluded) for part in recipe.applied_to)
    _require_kinds(recipe.spec, inputs)
    delivery = delivery_behind(recipe.inputs[0], reader) if recipe.spec.is_step else None
    context = Context(reader.open_layer, delivery, excluded, read_classifier=reader.read_classifier)
    return recipe.spec.open(inputs, recipe.checked, context)


def open_steps(raster: Raster, steps: Iterable[Node], reader: LayerReader) -> Raster:
    """Steps, the earliest first, on a raster that is open already.

    Raises
    ------
    InputError, BadSettingsError
    """
    for step in steps:
        _require_kinds(step.spec, (raster,))
        raster = step.spec.open((raster,), step.checked, Context(reader.open_layer))
    return raster


def _require_kinds(spec: Operation, inputs: tuple[Raster, ...]) -> None:
    """Raises InputError for codes where numbers are wanted, or the other way round."""
    for raster in inputs:
        kind = kind_of(raster)
        if kind not in spec.takes:
            wanted = " or ".join(KIND_WORDS[one] for one in sorted(spec.takes))
            raise InputError(
                f"“{spec.title}” works on {wanted}; this layer has {KIND_WORDS[kind]}."
            )


def apply_operation(
    inputs: tuple[Recipe, ...],
    operation: str,
    settings: dict[str, Any],
    reader: LayerReader,
    name_of: Callable[[int], str],
    layers: Mapping[str, LayerRef] | None = None,
    watch: Watch = UNWATCHED,
) -> Node:
    """The recipe of an operation on some inputs, what its settings leave open found in them.

    ``name_of``: what layers are called; ``layers``: those of the study by name. The result is
    opened once, so that what cannot be done is told now.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError, CancelledError
    """
    spec = OPERATIONS[operation]
    given = validate_settings(spec, settings)
    rasters = tuple(open_recipe(part, reader) for part in inputs)
    _require_kinds(spec, rasters)
    delivery = delivery_behind(inputs[0], reader)
    context = Context(
        reader.open_layer,
        delivery,
        layers=layers or {},
        sensor=delivery.sensor if delivery else None,
        read_classifier=reader.read_classifier,
    )
    prepared = spec.prepare(rasters, given, context, watch)
    named = {part.layer_id for part in inputs if isinstance(part, LayerLeaf)}
    others = (i for i in dict.fromkeys(spec.others(prepared)) if i not in named)
    node = Node(
        operation=operation,
        version=spec.version,
        settings=prepared.model_dump(mode="json"),
        inputs=(*inputs, *(LayerLeaf(layer_id=i, name=name_of(i)) for i in others)),
    )
    if len(chain_of(node)[1]) > MAX_STEPS:
        raise InputError(f"At most {MAX_STEPS} steps can be made at once. Make a layer of some.")
    _ = open_recipe(node, reader).grid
    return node
