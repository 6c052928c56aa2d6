"""Classifiers, runs and their news."""

from collections.abc import AsyncIterator
from typing import Annotated, Any

from fastapi import Depends, Request
from fastapi.responses import StreamingResponse
from pydantic import BaseModel

from kitesort.api.method_schemas import MapCreate
from kitesort.api.routes import api_router
from kitesort.api.schemas import ClassifierOut, Id, RunCreate, RunOut
from kitesort.core.classify.operations.classify import SPEC as CLASSIFY
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.training import Training, require_enough_pixels, train
from kitesort.core.operations import OPERATIONS
from kitesort.core.training.samples import TrainingSamples
from kitesort.runs import count_clusters, make_map, make_polygons, try_methods
from kitesort.runs.feed import NewsFeed
from kitesort.runs.queue import RunQueue
from kitesort.store import runs
from kitesort.store.records import Run
from kitesort.store.studies import get_study
from kitesort.study.method import checked_method
from kitesort.study.rasters import layer_record
from kitesort.study.training import make_training, map_recipe, samples_of
from kitesort.study.where import only_in

router = api_router("runs")


@router.get("/classifiers")
def get_classifiers() -> list[ClassifierOut]:
    return [
        ClassifierOut(
            id=spec.id,
            title=spec.title,
            good_for=spec.good_for,
            source=spec.source,
            scores=spec.scores,
            draws=spec.draws,
            slow=spec.slow,
            settings_schema=spec.settings.model_json_schema(),
        )
        for spec in CLASSIFIERS.values()
    ]


@router.post("/studies/{study_id}/runs", status_code=201)
def create_run(request: Request, study_id: Id, body: MapCreate) -> RunOut:
    """Queue a classification of a scene, or of a part of it; a quick method is trained once before,
    to see that it can be done."""
    training, samples = _training_of(study_id, body)
    require_enough_pixels(samples, training)
    if not CLASSIFIERS[training.method].slow:
        train(training, samples)
    whole = map_recipe(body.scene_id, CLASSIFY.id, training)
    where = body.where
    recipe = only_in(whole, body.scene_id, where.extent, tuple(where.outlines), where.within)
    task = make_map.MapTask(recipe=recipe, give=tuple(body.give), level=body.level)
    title = f"Classifying {layer_record(body.scene_id).title}"
    return _submit(request, study_id, title, make_map.KIND, task)


@router.post("/studies/{study_id}/trials", status_code=201)
def try_all_methods(request: Request, study_id: Id, body: RunCreate) -> RunOut:
    """Queue a comparison of all methods over folds of whole sites; its rows come one by one."""
    training, _ = _training_of(study_id, body)
    task = try_methods.TryTask(scene_id=body.scene_id, training=training)
    return _submit(request, study_id, "Trying all methods", try_methods.METHODS_KIND, task)


@router.post("/studies/{study_id}/layer-trials", status_code=201)
def try_all_layers(request: Request, study_id: Id, body: RunCreate) -> RunOut:
    """Queue a comparison of the layers that go in: what is lost without each."""
    training, _ = _training_of(study_id, body)
    task = try_methods.TryTask(scene_id=body.scene_id, training=training)
    return _submit(request, study_id, "Trying each layer", try_methods.LAYERS_KIND, task)


def _training_of(study_id: int, body: RunCreate) -> tuple[Training, TrainingSamples]:
    get_study(study_id)
    method = checked_method(body.method, body.settings, body.seed)
    training = make_training(study_id, body.scene_id, tuple(body.roles), method)
    samples, _ = samples_of(body.scene_id, training)
    return training, samples


def _submit(request: Request, study_id: int, title: str, kind: str, task: BaseModel) -> RunOut:
    queue: RunQueue = request.app.state.queue
    return run_out(queue.submit(study_id, title, kind, task))


@router.get("/studies/{study_id}/runs")
def get_runs(study_id: Id) -> list[RunOut]:
    return [run_out(run) for run in runs.list_runs(study_id)]


@router.post("/runs/{run_id}/cancel")
def cancel_run(run_id: Id) -> RunOut:
    return run_out(runs.request_cancel(run_id))


def _require_study(study_id: Id) -> int:
    return get_study(study_id).id


@router.get("/studies/{study_id}/events", response_class=StreamingResponse)
async def get_events(
    request: Request, study_id: Annotated[int, Depends(_require_study)]
) -> StreamingResponse:
    """Server-sent events of a study: one message for every step of its runs, and for every edit."""
    feed: NewsFeed = request.app.state.feed

    async def lines() -> AsyncIterator[str]:
        yield "retry: 2000\n\n"
        async for message in feed.subscribe(study_id):
            yield f"data: {message}\n\n" if message else ": alive\n\n"

    return StreamingResponse(
        lines(), media_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )


def run_out(run: Run) -> RunOut:
    values = run.model_dump(include=set(RunOut.model_fields))
    counts = run.rows if run.kind == count_clusters.KIND else []
    suggested = count_clusters.suggestion_of(run) if counts else None
    training = run.task.get("training") or _settings_in(run.task.get("recipe") or {})
    return RunOut(
        **values,
        method=training.get("method"),
        settings=training.get("settings") or {},
        methods=run.rows if run.kind == try_methods.METHODS_KIND else [],
        layers=run.rows if run.kind == try_methods.LAYERS_KIND else [],
        counts=counts,
        polygons_of=run.task["layer_id"] if run.kind == make_polygons.KIND else None,
        polygons=make_polygons.row_of(run),
        suggested=suggested and suggested.n_clusters,
        reason=suggested and suggested.reason,
    )


def _settings_in(recipe: dict[str, Any]) -> dict[str, Any]:
    """Of what made a map, steps since aside."""
    while recipe.get("operation") in OPERATIONS and OPERATIONS[recipe["operation"]].is_step:
        recipe = recipe["inputs"][0]
    return recipe.get("settings") or {}
