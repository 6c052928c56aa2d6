"""Derived layers: what can be derived, previews, and the layers themselves."""

import math

from fastapi import Request

from kitesort.api.derive_schemas import (
    DerivationCreate,
    DerivationIn,
    DerivationOrder,
    DerivationOut,
    DerivedOut,
    MemberOut,
    RelationsOut,
    UndefinedOut,
)
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_out import stored_with_answer
from kitesort.api.scene_schemas import ProblemWith, SceneOut
from kitesort.api.schemas import Id, RunOut
from kitesort.core.derive.members import relate_members
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.derive.undefined import count_undefined
from kitesort.core.errors import InputError
from kitesort.core.operation import LARGEST_AT_ONCE
from kitesort.core.settings import validate_settings
from kitesort.runs import derive as derive_run
from kitesort.runs.queue import RunQueue
from kitesort.store.layers import require_in_study
from kitesort.store.records import Layer
from kitesort.store.scenes import derive_scene
from kitesort.study.derive import make_draft, prepare_derived
from kitesort.study.rasters import open_layer

router = api_router("derive")


@router.get("/derivations")
def get_derivations() -> list[DerivationOut]:
    return [
        DerivationOut(
            id=spec.id,
            title=spec.title,
            good_for=spec.good_for,
            source=spec.source,
            takes=sorted(spec.takes),
            settings_schema=spec.settings.model_json_schema(),
            native_side=spec.native_side,
        )
        for spec in DERIVATIONS.values()
    ]


@router.post("/studies/{study_id}/drafts")
def create_draft(study_id: Id, body: DerivationIn) -> SceneOut:
    """A preview that can be looked at like a scene and is in no list."""
    recipe = prepare_derived(study_id, body.scene_id, body.operation, body.settings)
    return stored_with_answer(lambda: make_draft(study_id, recipe))


@router.post("/studies/{study_id}/derivations", status_code=201)
def derive(request: Request, study_id: Id, body: DerivationCreate) -> DerivedOut:
    """The same orders for every scene named; what cannot be done for one is told, and the others
    are made. What needs every pixel of a large scene first is a run."""
    queue: RunQueue = request.app.state.queue
    made: list[SceneOut] = []
    problems: list[ProblemWith] = []
    runs: list[RunOut] = []
    for scene in require_in_study(study_id, body.scene_ids):
        for order in body.orders:
            try:
                if _takes_long(scene, order):
                    runs.append(_submit(queue, scene, order))
                    continue
                made.append(_make(scene, order))
            except InputError as error:
                if len(body.scene_ids) * len(body.orders) == 1:
                    raise
                problems.append(
                    ProblemWith(layer_id=scene.id, title=scene.title, sentence=error.sentence)
                )
    return DerivedOut(made=made, problems=problems, runs=runs)


def _make(scene: Layer, order: DerivationOrder) -> SceneOut:
    recipe = prepare_derived(scene.study_id, scene.id, order.operation, order.settings)
    return stored_with_answer(lambda: derive_scene(scene.study_id, recipe, order.title))


def _takes_long(scene: Layer, order: DerivationOrder) -> bool:
    spec = DERIVATIONS[order.operation]
    is_slow = spec.is_slow(validate_settings(spec, order.settings))
    return is_slow and open_layer(scene.id).grid.whole.n_pixels > LARGEST_AT_ONCE


def _submit(queue: RunQueue, scene: Layer, order: DerivationOrder) -> RunOut:
    task = derive_run.DeriveTask(
        scene_id=scene.id, operation=order.operation, settings=order.settings, title=order.title
    )
    title = f"{DERIVATIONS[order.operation].title} of {scene.title}"
    return run_out(queue.submit(scene.study_id, title, derive_run.KIND, task))


@router.get("/scenes/{scene_id}/undefined")
def get_undefined(scene_id: Id) -> UndefinedOut:
    """Pixels that had data and have no value: division by zero, logarithms of negatives."""
    found = count_undefined(open_layer(scene_id))
    return UndefinedOut.model_validate(found, from_attributes=True)


@router.get("/scenes/{scene_id}/relations")
def get_relations(scene_id: Id) -> RelationsOut:
    """Ranges of a scene's bands, correlation between them, near-duplicates."""
    found = relate_members(open_layer(scene_id))
    return RelationsOut(
        members=[MemberOut.model_validate(m, from_attributes=True) for m in found.members],
        correlation=[[None if math.isnan(v) else float(v) for v in row]
                     for row in found.correlation],
        n_valid=found.n_valid,
        remarks=found.remarks,
    )  # fmt: skip
