"""From a scene's record to what the browser is told of it."""

from collections.abc import Callable, Sequence
from typing import TypeVar

from kitesort.api.grids import grid_out
from kitesort.api.scene_schemas import Origin, SceneOut, StepOut
from kitesort.api.schemas import BandOut, CompositeOut
from kitesort.core.bands import UNITS, available_composites
from kitesort.core.delivery import DeliveredScene
from kitesort.core.derive.index_catalogue import usual_palette
from kitesort.core.newest import remembered
from kitesort.core.operation import Station
from kitesort.core.raster.file import dtype_of
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.recipe import (
    DeliveredLeaf,
    Node,
    Recipe,
    chain_of,
    parents_of,
    sentence_of,
    source_of,
)
from kitesort.store.database import transaction
from kitesort.store.layers import recipe_of
from kitesort.store.records import Layer
from kitesort.store.scenes import is_delivered
from kitesort.study.rasters import (
    delivery_of,
    flags_of,
    layer_record,
    left_out_flags,
    open_layer,
    opened,
    quantity_of,
    study_crs,
)
from kitesort.study.readout import default_roles, usable_share

T = TypeVar("T")


def scene_out(scene: Layer) -> SceneOut:
    """All of it but title and ``kept`` stays the same for ever."""
    return _fixed_part(scene.id).model_copy(
        update={"title": scene.title, "kept": scene.kept_path is not None}
    )


def stored_with_answers(
    store: Callable[[], Sequence[Layer]], tell: Callable[[Layer], T]
) -> list[T]:
    """What ``store`` stores, told of; or nothing stored: a layer that cannot be told of would spoil
    every list of its study."""
    try:
        with transaction():
            return [tell(layer) for layer in store()]
    except BaseException:
        study_crs.forget()  # it may be that of a first scene that is not there
        raise


def stored_with_answer(store: Callable[[], Layer]) -> SceneOut:
    """As ``stored_with_answers``, of one scene."""
    (answer,) = stored_with_answers(lambda: [store()], scene_out)
    return answer


@remembered(1024)
def _fixed_part(scene_id: int) -> SceneOut:
    scene = layer_record(scene_id)
    recipe, raster = recipe_of(scene_id), open_layer(scene_id)
    delivery = delivery_of(scene_id)
    return SceneOut(
        id=scene.id,
        title=scene.title,
        sensor=scene.sensor,
        acquired=scene.acquired,
        sun_elevation_deg=delivery.sun_elevation_deg if delivery else None,
        origin=_origin_of(recipe),
        sentence=sentence_of(recipe),
        made_of=list(parents_of(recipe)),
        steps=_steps_out(recipe),
        series=scene.series,
        kept=False,
        quantity=quantity_of(scene_id),
        resampling=delivery.stack.resampling if delivery else "nearest",
        grid=grid_out(raster.grid),
        display=grid_out(opened(scene_id).shown.grid),
        bands=_bands_out(raster, delivery if is_delivered(recipe) else None),
        composites=[
            CompositeOut(
                id=c.id, title=c.title, key=c.key, red=c.roles[0], green=c.roles[1], blue=c.roles[2]
            )
            for c in available_composites(set(roles_of(raster)))
        ],
        palette=usual_palette(roles_of(raster)[0]),
        apart=_is_apart(recipe),
        default_roles=list(default_roles(scene_id)),
        excluded=list(left_out_flags(scene_id)),
        flags=list(flags_of(scene_id)),
        usable_share=usable_share(scene_id),
        without_factors=_without_factors(delivery),
    )


def _without_factors(delivery: DeliveredScene | None) -> list[str]:
    bands = delivery.used_bands if delivery else ()
    return [band.role for band in bands if band.best_quantity == "numbers"]


_ORIGINS: dict[Station, Origin] = {
    "combine": "combined",
    "derive": "derived",
    "classify": "derived",
}


def _is_apart(recipe: Recipe) -> bool:
    source = source_of(recipe)
    return isinstance(source, Node) and source.spec.apart


def _origin_of(recipe: Recipe) -> Origin:
    source = source_of(recipe)
    if isinstance(source, Node):
        return _ORIGINS[source.spec.station]
    return "delivered" if isinstance(source, DeliveredLeaf) else "corrected"


def _steps_out(recipe: Recipe) -> list[StepOut]:
    """A derivation is the first of the steps."""
    source, steps = chain_of(recipe)
    first = [source] if isinstance(source, Node) and source.spec.station == "derive" else []
    return [_step_out(node) for node in (*first, *steps)]


def _step_out(node: Node) -> StepOut:
    return StepOut(
        operation=node.operation,
        family=node.spec.family,
        title=node.spec.title,
        words=node.words,
        settings=node.settings,
    )


def _bands_out(raster: Raster, delivery: DeliveredScene | None) -> list[BandOut]:
    kinds = {}
    if delivery:
        kinds = {b.role: dtype_of(delivery.file_of(b.role).path) for b in delivery.used_bands}
    return [
        BandOut(
            role=band.role,
            wavelength_um=band.wavelength_um,
            pixel_size=band.pixel_size or raster.grid.pixel_size[0],
            file=band.source,
            kind=kinds.get(band.role, "float32"),
            quantity=band.quantity,
            unit=UNITS.get(band.quantity, ""),
        )
        for band in raster.bands
    ]
