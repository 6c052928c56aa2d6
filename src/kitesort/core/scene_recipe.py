"""How a scene came to be, as data: what was delivered, or other scenes, and the steps since."""

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from kitesort.core.correct.protocol import CorrectionContext, SceneOpener
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.derive.protocol import DeriveContext, LayerRef
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import BadSettingsError
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings, validate_settings

MAX_STEPS = 30


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class DeliveredSource(_Model):
    """As a provider delivered it."""

    kind: Literal["delivered"] = "delivered"
    delivery: DeliveredScene


class SceneSource(_Model):
    """Another scene of the study; the name is for people."""

    kind: Literal["scene"] = "scene"
    scene_id: int
    name: str


class CombinedSource(_Model):
    """Several scenes made into one."""

    kind: Literal["combined"] = "combined"
    method: str
    version: int
    settings: dict[str, Any] = Field(default_factory=dict)
    members: tuple[SceneSource, ...] = Field(min_length=2, max_length=200)


class Step(_Model):
    """A correction with settings that leave nothing open."""

    operation: str
    version: int
    settings: dict[str, Any]

    @property
    def words(self) -> str:
        spec = CORRECTIONS[self.operation]
        return spec.say(spec.settings.model_validate(self.settings))


class DerivedSource(_Model):
    """New layers from a scene's bands, and from those of further ones (the inputs after it)."""

    kind: Literal["derived"] = "derived"
    operation: str
    version: int
    settings: dict[str, Any]
    inputs: tuple[SceneSource, ...] = Field(min_length=1, max_length=65)

    @property
    def words(self) -> str:
        spec = DERIVATIONS[self.operation]
        return spec.say(validate_settings(spec, self.settings))


Source = Annotated[
    DeliveredSource | SceneSource | CombinedSource | DerivedSource, Field(discriminator="kind")
]


class SceneRecipe(_Model):
    """A source and the corrections since, in order."""

    source: Source
    steps: tuple[Step, ...] = Field((), max_length=MAX_STEPS)

    @property
    def fingerprint(self) -> str:
        return hashlib.blake2s(self.model_dump_json().encode(), digest_size=8).hexdigest()

    @property
    def portable(self) -> str:
        """The recipe as JSON for files that leave the house: files by name, no folder of ours."""
        if not isinstance(self.source, DeliveredSource):
            return self.model_dump_json()
        delivery = self.source.delivery.model_copy(update={"folder": ""})
        return self.model_copy(
            update={"source": DeliveredSource(delivery=delivery)}
        ).model_dump_json()

    @property
    def sentence(self) -> str:
        """The recipe in words, as it stands above a pane and in the exported file."""
        steps = "".join(f"; {step.words}" for step in self.steps)
        return f"{_words_of(self.source)}{steps}."


def _words_of(source: Source) -> str:
    if isinstance(source, SceneSource):
        return source.name
    if isinstance(source, CombinedSource):
        spec = COMBINATIONS[source.method]
        said = spec.say(validate_settings(spec, source.settings))
        return f"{said[0].upper()}{said[1:]} {', '.join(m.name for m in source.members)}"
    if isinstance(source, DerivedSource):
        names = ", ".join(m.name for m in source.inputs)
        return f"{source.words}, of {names}"
    delivery = source.delivery
    bands = f"{len(delivery.used_bands)} bands ({', '.join(delivery.roles)})"
    return f"{delivery.name} of {delivery.sensor} as {delivery.quantity_words}, {bands}"


@dataclass(frozen=True)
class SceneReader:
    """What a recipe needs of the store: other scenes by id, and the delivery each stems from."""

    open_scene: SceneOpener
    delivery_of: Callable[[int], DeliveredScene | None]


def delivery_behind(recipe: SceneRecipe, reader: SceneReader) -> DeliveredScene | None:
    """The delivery that a scene stems from; None for one combined of several, or derived."""
    if isinstance(recipe.source, DeliveredSource):
        return recipe.source.delivery
    if isinstance(recipe.source, SceneSource):
        return reader.delivery_of(recipe.source.scene_id)
    return None


def open_recipe(
    recipe: SceneRecipe, reader: SceneReader, excluded: tuple[str, ...] = DEFAULT_EXCLUDED
) -> Raster:
    """The scene as a lazy raster; ``excluded`` names quality flags whose pixels are not valid.

    Raises
    ------
    InputError : a step that cannot be done on what is before it.
    """
    steps = [(CORRECTIONS[step.operation], step) for step in recipe.steps]
    for spec, step in steps:
        _require_version(step, spec.version, spec.title)
    orders = [(spec, validate_settings(spec, step.settings)) for spec, step in steps]
    left_out = [name for spec, settings in orders for name in spec.leaves_out(settings)]
    excluded = tuple(dict.fromkeys((*excluded, *left_out)))
    context = CorrectionContext(delivery_behind(recipe, reader), reader.open_scene, excluded)
    raster = _open_source(recipe.source, reader, excluded)
    for spec, settings in orders:
        raster = spec.apply(raster, settings, context)
    return raster


def _open_source(source: Source, reader: SceneReader, excluded: tuple[str, ...]) -> Raster:
    if isinstance(source, DeliveredSource):
        return open_delivery(source.delivery, excluded)
    if isinstance(source, SceneSource):
        return reader.open_scene(source.scene_id, excluded)
    if isinstance(source, DerivedSource):
        return _open_derived(source, reader, excluded)
    spec = COMBINATIONS[source.method]
    members = tuple(reader.open_scene(m.scene_id, excluded) for m in source.members)
    return spec.combine(members, validate_settings(spec, source.settings))


def _open_derived(source: DerivedSource, reader: SceneReader, excluded: tuple[str, ...]) -> Raster:
    spec = DERIVATIONS[source.operation]
    _require_version(source, spec.version, spec.title)
    first = reader.open_scene(source.inputs[0].scene_id, excluded)
    context = DeriveContext(lambda scene_id: reader.open_scene(scene_id, excluded))
    return spec.derive(first, validate_settings(spec, source.settings), context)


def make_derived(
    scene: SceneSource,
    operation: str,
    settings: dict[str, Any],
    reader: SceneReader,
    layers: Mapping[str, LayerRef],
    name_of: Callable[[int], str],
    watch: Watch = UNWATCHED,
) -> SceneRecipe:
    """The recipe of layers derived from a scene, what its settings leave open found in it.

    ``layers``: those of the study by name; ``name_of``: what scenes are called. The result is
    opened once, so that what cannot be done is told now.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError, CancelledError
    """
    spec = DERIVATIONS[operation]
    delivery = reader.delivery_of(scene.scene_id)
    context = DeriveContext(
        lambda scene_id: reader.open_scene(scene_id, DEFAULT_EXCLUDED),
        layers,
        delivery.sensor if delivery else None,
    )
    raster = reader.open_scene(scene.scene_id, DEFAULT_EXCLUDED)
    prepared = spec.prepare(raster, validate_settings(spec, settings), context, watch)
    others = [i for i in spec.inputs(prepared) if i != scene.scene_id]
    source = DerivedSource(
        operation=operation,
        version=spec.version,
        settings=prepared.model_dump(mode="json"),
        inputs=(scene, *(SceneSource(scene_id=i, name=name_of(i)) for i in others)),
    )
    recipe = SceneRecipe(source=source)
    _ = open_recipe(recipe, reader).grid
    return recipe


def add_step(
    recipe: SceneRecipe, operation: str, settings: dict[str, Any], reader: SceneReader
) -> SceneRecipe:
    """The recipe with one more step, what it leaves open found from the scene as it is before it.

    The new scene is opened once, so that what cannot be done is told now.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError
    """
    spec = CORRECTIONS[operation]
    before = open_recipe(recipe, reader)
    context = CorrectionContext(delivery_behind(recipe, reader), reader.open_scene)
    prepared: Settings = spec.prepare(before, validate_settings(spec, settings), context)
    step = Step(
        operation=operation, version=spec.version, settings=prepared.model_dump(mode="json")
    )
    longer = recipe.model_copy(update={"steps": (*recipe.steps, step)})
    _ = open_recipe(longer, reader).grid
    return longer


def _require_version(step: Step | DerivedSource, version: int, title: str) -> None:
    if step.version != version:
        raise BadSettingsError(
            f"The recipe is for version {step.version} of “{title}”; this is version {version}."
        )
