"""The scenes of a study: layers of measured bands, as delivered and made of others."""

from datetime import date

from kitesort.core.delivery import DeliveredScene
from kitesort.core.errors import NotFoundError
from kitesort.core.recipe import (
    DeliveredLeaf,
    Node,
    Recipe,
    chain_of,
    parents_of,
    source_of,
)
from kitesort.store.database import transaction
from kitesort.store.layers import add_layer, free_title, get_layer, list_layers
from kitesort.store.models import LayerRow
from kitesort.store.records import Layer

MOST_TITLE = 120


def add_scene(
    study_id: int, title: str, delivery: DeliveredScene, series: str | None = None
) -> Layer:
    """Take a delivered scene into the study.

    Raises
    ------
    DuplicateNameError
    """
    return add_layer(
        study_id, title, DeliveredLeaf(delivery=delivery), "measured",
        acquired=delivery.acquired, sensor=delivery.sensor, series=series,
    )  # fmt: skip


def derive_scene(study_id: int, recipe: Recipe, title: str | None = None) -> Layer:
    """Record a scene made of others; its title is made from theirs when none is given.

    Raises
    ------
    DuplicateNameError
    """
    parents = [get_layer(layer_id) for layer_id in parents_of(recipe)]
    dates = {p.acquired for p in parents}
    sensors = list(dict.fromkeys(p.sensor for p in parents if p.sensor))
    return add_layer(
        study_id,
        title or free_title(study_id, usual_title(recipe, parents[0])),
        recipe,
        "measured",
        acquired=parents[0].acquired if len(dates) == 1 else None,
        sensor=" and ".join(sensors),
    )


def usual_title(recipe: Recipe, first: Layer) -> str:
    """What a layer made of others is called, ``first`` among them, unless it is named."""
    source, steps = chain_of(recipe)
    made = source if isinstance(source, Node) else None
    name = made and made.spec.name(made.checked)
    if name:
        return f"{name}, {first.title}"[:MOST_TITLE]
    done = [node.spec.short for node in ((made, *steps) if made else steps)]
    return f"{first.title}, {', '.join(dict.fromkeys(done))}"


def list_scenes(study_id: int) -> list[Layer]:
    """In order of date."""
    return sorted(list_layers(study_id, "measured"), key=lambda one: one.acquired or date.max)


def first_scene_id(study_id: int) -> int:
    """The scene that came first, removed or not: the study's CRS never changes by accident.

    Raises
    ------
    NotFoundError
    """
    wanted = (LayerRow.study_id == study_id) & (LayerRow.kind == "measured")
    with transaction():
        row = LayerRow.select(LayerRow.id).where(wanted).order_by(LayerRow.id).first()
    if row is None:
        raise NotFoundError("The study has no scene yet. Bring one in first.")
    return int(row.id)


def is_delivered(recipe: Recipe) -> bool:
    """As it came, without any step since."""
    return isinstance(recipe, DeliveredLeaf)


def derived_node(recipe: Recipe) -> Node | None:
    """The derivation that a layer was made by, steps since aside."""
    source = source_of(recipe)
    is_derived = isinstance(source, Node) and source.spec.station in ("derive", "classify")
    return source if is_derived and isinstance(source, Node) else None
