"""Trained classifiers of a study: listed, named, taken away, brought in."""

from typing import Annotated

from fastapi import Query, Request, Response
from fastapi.responses import FileResponse
from starlette.concurrency import run_in_threadpool

from kitesort.api.downloads import attachment, file_stem
from kitesort.api.method_schemas import (
    ApplyCreate,
    FitOut,
    NamedClassOut,
    SuretyOrder,
    TrainedClassifierOut,
    TreeLineOut,
)
from kitesort.api.raw_body import RAW_BODY, read_body
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_out import scene_out
from kitesort.api.scene_schemas import SceneOut
from kitesort.api.schemas import Id, NamePatch, RoundOut, RunOut
from kitesort.core.classify.learning import rounds_of
from kitesort.core.classify.onnx_file import write_onnx
from kitesort.core.classify.stored import MOST_FILE_BYTES
from kitesort.core.classify.tree_words import lines_of
from kitesort.core.names import Name
from kitesort.runs import make_map
from kitesort.runs.queue import RunQueue
from kitesort.store import classifiers
from kitesort.store.layers import require_in_study
from kitesort.store.records import KeptClassifier
from kitesort.store.studies import get_study
from kitesort.study.applying import apply_recipe, check_fit, surety_of
from kitesort.study.maps import get_map
from kitesort.study.rasters import layer_record

router = api_router("classifiers")
ZIP = "application/zip"


@router.get("/studies/{study_id}/trained-classifiers")
def get_trained_classifiers(study_id: Id) -> list[TrainedClassifierOut]:
    """Newest first."""
    get_study(study_id)
    return [_out(one) for one in classifiers.list_classifiers(study_id)]


@router.post("/studies/{study_id}/trained-classifiers", status_code=201, openapi_extra=RAW_BODY)
async def bring_in_classifier(
    request: Request,
    study_id: Id,
    name: Annotated[Name, Query(min_length=1, max_length=120)],
) -> TrainedClassifierOut:
    """A classifier from the file that another study gave away."""
    content = await read_body(request, MOST_FILE_BYTES)
    made = await run_in_threadpool(classifiers.import_classifier, study_id, name, content)
    return _out(made)


@router.patch("/trained-classifiers/{classifier_id}")
def rename_classifier(classifier_id: Id, body: NamePatch) -> TrainedClassifierOut:
    return _out(classifiers.rename_classifier(classifier_id, body.name))


@router.delete("/trained-classifiers/{classifier_id}", status_code=204)
def remove_classifier(classifier_id: Id) -> None:
    classifiers.remove_classifier(classifier_id)


@router.get(
    "/trained-classifiers/{classifier_id}/file",
    response_class=FileResponse,
    responses={200: {"content": {ZIP: {}}}},
)
def download_classifier(classifier_id: Id) -> FileResponse:
    """Arrays and JSON in a zip archive."""
    kept = classifiers.get_classifier(classifier_id)
    path = classifiers.classifier_file(classifier_id)
    return FileResponse(path, media_type=ZIP, filename=f"{file_stem(kept.name)}-classifier.zip")


@router.get(
    "/trained-classifiers/{classifier_id}/onnx",
    response_class=Response,
    responses={200: {"content": {ZIP: {}}}},
)
def download_onnx(classifier_id: Id) -> Response:
    """The classifier as an ONNX model with its card, for any runtime of that open standard."""
    kept = classifiers.get_classifier(classifier_id)
    content = write_onnx(classifiers.open_classifier(classifier_id))
    headers = {"Content-Disposition": attachment(f"{file_stem(kept.name)}-onnx.zip")}
    return Response(content, media_type=ZIP, headers=headers)


@router.get("/trained-classifiers/{classifier_id}/questions")
def get_questions(classifier_id: Id) -> list[TreeLineOut]:
    """A decision tree as it is read: questions one under the other, and answers."""
    model = classifiers.open_classifier(classifier_id).model
    return [TreeLineOut.model_validate(one, from_attributes=True) for one in lines_of(model)]


@router.get("/trained-classifiers/{classifier_id}/rounds")
def get_rounds(classifier_id: Id) -> list[RoundOut]:
    """How a neural network learnt: loss, and what it told right of pixels held out."""
    model = classifiers.open_classifier(classifier_id).model
    return [RoundOut.model_validate(one, from_attributes=True) for one in rounds_of(model)]


@router.get("/trained-classifiers/{classifier_id}/fits")
def get_fits(
    classifier_id: Id, scene_ids: Annotated[list[Id], Query(min_length=1, max_length=50)]
) -> list[FitOut]:
    """Whether the classifier can be put on scenes: bands, what their values mean, and how like they
    are to those of the scene that was trained on."""
    kept = classifiers.get_classifier(classifier_id)
    require_in_study(kept.study_id, scene_ids)
    return [
        FitOut(scene_id=fit.scene_id, problem=fit.problem, remarks=list(fit.remarks))
        for fit in (check_fit(kept, scene_id) for scene_id in scene_ids)
    ]


@router.post("/trained-classifiers/{classifier_id}/apply", status_code=201)
def apply_classifier(request: Request, classifier_id: Id, body: ApplyCreate) -> list[RunOut]:
    """Queue a class map of each scene; none where one of them does not fit."""
    kept = classifiers.get_classifier(classifier_id)
    require_in_study(kept.study_id, body.scene_ids)
    queue: RunQueue = request.app.state.queue
    tasks = [
        (
            f"Classifying {layer_record(scene_id).title}",
            make_map.MapTask(
                recipe=apply_recipe(kept, scene_id), give=tuple(body.give), level=body.level
            ),
        )
        for scene_id in dict.fromkeys(body.scene_ids)
    ]
    return [run_out(run) for run in queue.submit_all(kept.study_id, make_map.KIND, tasks)]


def _out(kept: KeptClassifier) -> TrainedClassifierOut:
    told = kept.told
    return TrainedClassifierOut(
        id=kept.id,
        name=kept.name,
        sentence=told.sentence,
        method=told.method,
        settings=told.settings,
        seed=told.seed,
        roles=list(told.roles),
        quantities=list(told.quantities),
        classes=[NamedClassOut(code=c.code, name=c.name, colour=c.colour) for c in told.classes],
        check=told.check,
        clusters=told.clusters,
        dissimilarity=told.dissimilarity,
        scene=told.scene.title if told.scene else None,
        created_at=kept.created_at,
    )


@router.post("/maps/{layer_id}/surety", status_code=201)
def tell_surety(layer_id: Id, body: SuretyOrder) -> SceneOut:
    """A layer that tells how sure the classifier behind a map is: nothing is computed until it is
    looked at or kept."""
    made = surety_of(get_map(layer_id), tuple(body.give), body.level)
    return scene_out(made)
