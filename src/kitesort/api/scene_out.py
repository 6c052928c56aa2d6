"""From a scene's record to what the browser is told of it."""

from collections.abc import Callable, Sequence
from functools import lru_cache

from kitesort.api.grids import grid_out
from kitesort.api.scene_schemas import Origin, SceneOut, StepOut
from kitesort.api.schemas import BandOut, CompositeOut
from kitesort.core.bands import UNITS, available_composites
from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.delivery import DeliveredScene
from kitesort.core.derive.index_catalogue import usual_palette
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.raster.file import dtype_of
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.scene_recipe import DerivedSource, SceneRecipe
from kitesort.store.database import transaction
from kitesort.store.rasters import (
    delivery_of,
    display_scene,
    flags_of,
    left_out_flags,
    quantity_of,
    scene_record,
    study_crs,
    usable_scene,
)
from kitesort.store.readout import default_roles, usable_share
from kitesort.store.records import Scene
from kitesort.store.scenes import parents_of


def scene_out(scene: Scene) -> SceneOut:
    """All of it but title and ``kept`` stays the same for ever."""
    return _fixed_part(scene.id).model_copy(
        update={"title": scene.title, "kept": scene.kept_path is not None}
    )


def stored_with_answers(store: Callable[[], Sequence[Scene]]) -> list[SceneOut]:
    """What ``store`` stores, told of; or nothing stored: a scene that cannot be told of would spoil
    every list of its study."""
    try:
        with transaction():
            return [scene_out(scene) for scene in store()]
    except BaseException:
        study_crs.cache_clear()  # it may be that of a first scene that is not there
        raise


def stored_with_answer(store: Callable[[], Scene]) -> SceneOut:
    """As ``stored_with_answers``, of one scene."""
    (answer,) = stored_with_answers(lambda: [store()])
    return answer


@lru_cache(maxsize=1024)
def _fixed_part(scene_id: int) -> SceneOut:
    scene = scene_record(scene_id)
    raster, delivery = usable_scene(scene_id), delivery_of(scene_id)
    return SceneOut(
        id=scene.id,
        title=scene.title,
        sensor=scene.sensor,
        acquired=scene.acquired,
        sun_elevation_deg=delivery.sun_elevation_deg if delivery else None,
        origin=_ORIGINS[scene.recipe.source.kind],
        sentence=scene.recipe.sentence,
        made_of=parents_of(scene.recipe),
        steps=_steps_out(scene.recipe),
        series=scene.series,
        kept=False,
        quantity=quantity_of(scene_id),
        resampling=delivery.stack.resampling if delivery else "nearest",
        grid=grid_out(raster.grid),
        display=grid_out(display_scene(scene_id).grid),
        bands=_bands_out(raster, delivery if is_delivered(scene.recipe) else None),
        composites=[
            CompositeOut(
                id=c.id, title=c.title, key=c.key, red=c.roles[0], green=c.roles[1], blue=c.roles[2]
            )
            for c in available_composites(set(roles_of(raster)))
        ],
        palette=usual_palette(roles_of(raster)[0]),
        default_roles=list(default_roles(scene_id)),
        excluded=list(left_out_flags(scene_id)),
        flags=list(flags_of(scene_id)),
        usable_share=usable_share(scene_id),
        without_factors=_without_factors(delivery),
    )


def _without_factors(delivery: DeliveredScene | None) -> list[str]:
    bands = delivery.used_bands if delivery else ()
    return [band.role for band in bands if band.best_quantity == "numbers"]


def is_delivered(recipe: SceneRecipe) -> bool:
    return recipe.source.kind == "delivered" and not recipe.steps


_ORIGINS: dict[str, Origin] = {
    "delivered": "delivered",
    "scene": "corrected",
    "combined": "combined",
    "derived": "derived",
}


def _steps_out(recipe: SceneRecipe) -> list[StepOut]:
    """A derivation is the first of the steps."""
    source = recipe.source
    first = []
    if isinstance(source, DerivedSource):
        title = DERIVATIONS[source.operation].title
        first = [
            StepOut(
                operation=source.operation, family=None, title=title, words=source.words,
                settings=source.settings,
            )
        ]  # fmt: skip
    return first + [
        StepOut(
            operation=step.operation,
            family=CORRECTIONS[step.operation].family,
            title=CORRECTIONS[step.operation].title,
            words=step.words,
            settings=step.settings,
        )
        for step in recipe.steps
    ]


def _bands_out(raster: Raster, delivery: DeliveredScene | None) -> list[BandOut]:
    kinds = {}
    if delivery:
        kinds = {b.role: dtype_of(delivery.file_of(b.role).path) for b in delivery.used_bands}
    return [
        BandOut(
            role=band.role,
            wavelength_um=band.wavelength_um,
            resolution_m=band.pixel_size or raster.grid.pixel_size[0],
            file=band.source,
            kind=kinds.get(band.role, "float32"),
            quantity=band.quantity,
            unit=UNITS.get(band.quantity, ""),
        )
        for band in raster.bands
    ]
