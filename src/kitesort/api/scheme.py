"""The class scheme as a whole: its order, two classes into one, one into two, schemes of others."""

from typing import Annotated

from fastapi import Query, Request
from starlette.concurrency import run_in_threadpool

from kitesort.api.raw_body import RAW_BODY, read_body
from kitesort.api.routes import api_router
from kitesort.api.schemas import (
    ClassMerge,
    ClassOrder,
    ClassSplit,
    Id,
    SchemeFrom,
    SchemeTakenOut,
)
from kitesort.api.training import parse_roles
from kitesort.core.training.scheme_file import MAX_BYTES, TakenClass, read_scheme
from kitesort.store import scheme
from kitesort.store.layers import require_in_study
from kitesort.store.records import LandClass
from kitesort.store.studies import get_study
from kitesort.study.class_split import split_class
from kitesort.study.scheme import taken_classes

router = api_router("training")


@router.put("/studies/{study_id}/class-order")
def order_classes(study_id: Id, body: ClassOrder) -> list[LandClass]:
    get_study(study_id)
    return scheme.order_classes(study_id, body.class_ids)


@router.post("/classes/{class_id}/merge")
def merge_class(class_id: Id, body: ClassMerge) -> LandClass:
    """Give its sites and reference points to another class, and delete it."""
    return scheme.merge_classes(class_id, body.into_id)


@router.post("/classes/{class_id}/split", status_code=201)
def split_in_two(class_id: Id, body: ClassSplit) -> LandClass:
    """Give the sites of its second kind to a new class; the new class."""
    require_in_study(scheme.get_class(class_id).study_id, [body.scene_id])
    return split_class(class_id, body.scene_id, parse_roles(body.scene_id, ",".join(body.roles)))


@router.post("/studies/{study_id}/scheme-files", openapi_extra=RAW_BODY)
async def take_scheme_file(
    request: Request, study_id: Id, name: Annotated[str, Query(min_length=1, max_length=200)]
) -> SchemeTakenOut:
    """Take over the classes of a file (the body): JSON or a table."""
    content = await read_body(request, MAX_BYTES)
    return await run_in_threadpool(lambda: _take(study_id, read_scheme(content, name)))


@router.post("/studies/{study_id}/scheme-takes")
def take_scheme_of(study_id: Id, body: SchemeFrom) -> SchemeTakenOut:
    """Take over the classes of another study."""
    get_study(body.study_id)
    return _take(study_id, taken_classes(body.study_id))


def _take(study_id: int, classes: list[TakenClass]) -> SchemeTakenOut:
    added, known = scheme.take_scheme(study_id, classes)
    return SchemeTakenOut(added=added, known=known)
