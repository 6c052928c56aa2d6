"""Trained classifiers of a study: listed, named, taken away, brought in."""

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import FileResponse
from starlette.concurrency import run_in_threadpool

from kitesort.api.downloads import file_stem
from kitesort.api.raw_body import RAW_BODY, read_body
from kitesort.api.schemas import Id, NamePatch, TrainedClassifierOut, TrainedClassOut
from kitesort.core.classify.stored import MOST_FILE_BYTES
from kitesort.store import classifiers
from kitesort.store.records import KeptClassifier
from kitesort.store.studies import get_study

router = APIRouter(tags=["classifiers"])
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
    name: Annotated[str, Query(min_length=1, max_length=120)],
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
        classes=[TrainedClassOut(code=c.code, name=c.name, colour=c.colour) for c in told.classes],
        created_at=kept.created_at,
    )
