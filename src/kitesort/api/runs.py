"""Classifiers, runs and their news."""

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse

from kitesort.api.schemas import ClassifierOut, Id, RunCreate, RunOut
from kitesort.core.classify.operations.classify import SPEC as CLASSIFY
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.training import require_enough_pixels, train
from kitesort.runs import make_map
from kitesort.runs.feed import NewsFeed
from kitesort.runs.queue import RunQueue
from kitesort.store import runs
from kitesort.store.records import Run
from kitesort.store.studies import get_study
from kitesort.study.rasters import layer_record
from kitesort.study.training import make_training, map_recipe, samples_of

router = APIRouter(tags=["runs"])


@router.get("/classifiers")
def get_classifiers() -> list[ClassifierOut]:
    return [
        ClassifierOut(
            id=spec.id,
            title=spec.title,
            good_for=spec.good_for,
            source=spec.source,
            settings_schema=spec.settings.model_json_schema(),
        )
        for spec in CLASSIFIERS.values()
    ]


@router.post("/studies/{study_id}/runs", status_code=201)
def create_run(request: Request, study_id: Id, body: RunCreate) -> RunOut:
    """Queue a classification of the whole scene, after training once to see that it can be done."""
    get_study(study_id)
    roles = tuple(body.roles)
    training = make_training(study_id, body.scene_id, roles, body.method, body.settings)
    samples, _ = samples_of(body.scene_id, training)
    require_enough_pixels(samples, training)
    train(training, samples)
    recipe = map_recipe(body.scene_id, CLASSIFY.id, training)
    queue: RunQueue = request.app.state.queue
    title = f"Classifying {layer_record(body.scene_id).title}"
    return run_out(queue.submit(study_id, title, make_map.KIND, make_map.MapTask(recipe=recipe)))


@router.get("/studies/{study_id}/runs")
def get_runs(study_id: Id) -> list[RunOut]:
    return [run_out(run) for run in runs.list_runs(study_id)]


@router.post("/runs/{run_id}/cancel")
def cancel_run(run_id: Id) -> RunOut:
    return run_out(runs.request_cancel(run_id))


@router.get("/events", response_class=StreamingResponse)
async def get_events(request: Request) -> StreamingResponse:
    """Server-sent events: one message for every step of every run, and for every edit."""
    feed: NewsFeed = request.app.state.feed

    async def lines() -> AsyncIterator[str]:
        yield "retry: 2000\n\n"
        async for message in feed.subscribe():
            yield f"data: {message}\n\n" if message else ": alive\n\n"

    return StreamingResponse(
        lines(), media_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )


def run_out(run: Run) -> RunOut:
    values = run.model_dump(include=set(RunOut.model_fields))
    recipe = run.task.get("recipe") or {}
    training = recipe.get("settings") or {}
    return RunOut(**values, method=training.get("method"), settings=training.get("settings") or {})
