"""Training sites of others: a file is kept for a while, looked at, and taken by a run."""

from typing import Annotated

from fastapi import Query, Request
from starlette.concurrency import run_in_threadpool

from kitesort.api.ground_schemas import (
    GroundColumnOut,
    GroundFileOut,
    GroundIn,
    GroundOut,
    GroundTake,
    GroundValueOut,
    LeftOutOut,
)
from kitesort.api.raw_body import RAW_BODY, read_body
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.schemas import Id, RunOut
from kitesort.core.grid import parse_crs
from kitesort.core.legend import MOST_CLASSES
from kitesort.core.training.ground_file import FoundGround, GroundOptions
from kitesort.core.vector_file import MAX_BYTES, require_moderate
from kitesort.runs import take_ground
from kitesort.runs.queue import RunQueue
from kitesort.store.ground_files import ground_file, keep_ground_file
from kitesort.store.layers import require_in_study
from kitesort.store.studies import get_study
from kitesort.study.ground import GroundSource, ProposedClass, look_at_ground

router = api_router("training")
MOST_VALUES = MOST_CLASSES


@router.post("/studies/{study_id}/ground-files", openapi_extra=RAW_BODY, status_code=201)
async def keep_file(
    request: Request, study_id: Id, name: Annotated[str, Query(min_length=1, max_length=200)]
) -> GroundFileOut:
    """Keep a file with training sites (the body) for a day, to be looked at and taken."""
    content = await read_body(request, MAX_BYTES)
    return await run_in_threadpool(_keep, study_id, content, name)


def _keep(study_id: int, content: bytes, name: str) -> GroundFileOut:
    get_study(study_id)
    require_moderate(content, name)
    return GroundFileOut(token=keep_ground_file(content), name=name)


@router.post("/studies/{study_id}/ground")
def look_at_file(study_id: Id, body: GroundIn) -> GroundOut:
    """What a kept file holds, and which classes its values most likely stand for; nothing is
    taken."""
    require_in_study(study_id, [body.scene_id])
    found, proposed = look_at_ground(study_id, _source(body))
    return _ground_out(found, proposed)


@router.post("/studies/{study_id}/ground-takes", status_code=201)
def take_file(request: Request, study_id: Id, body: GroundTake) -> RunOut:
    """Bring its sites in, as one edit, by a run."""
    require_in_study(study_id, [body.scene_id])
    ground_file(body.token)
    task = take_ground.GroundTask.model_validate(body.model_dump())
    queue: RunQueue = request.app.state.queue
    return run_out(queue.submit(study_id, f"Bringing in {body.name}", take_ground.KIND, task))


def _source(body: GroundIn) -> GroundSource:
    options = GroundOptions(body.crs, body.x, body.y, body.attribute)
    return GroundSource(body.token, body.name, body.scene_id, options)


def _ground_out(found: FoundGround, proposed: list[ProposedClass]) -> GroundOut:
    return GroundOut(
        columns=[GroundColumnOut.model_validate(c, from_attributes=True) for c in found.columns],
        is_table=found.is_table,
        x=found.place[0] if found.place else None,
        y=found.place[1] if found.place else None,
        crs=found.crs,
        crs_name=parse_crs(found.crs).name if found.crs else None,
        attribute=found.attribute,
        n_features=found.n_features,
        n_sites=len(found.sites),
        n_mended=found.n_mended,
        left_out=[LeftOutOut(reason=r, n=n) for r, n in found.left_out.items()],
        n_values=len(proposed),
        values=[
            GroundValueOut(
                value=one.value,
                n_sites=one.n_sites,
                class_id=one.wanted.class_id,
                name=one.wanted.name,
                code=one.wanted.code,
                colour=one.wanted.colour,
            )
            for one in proposed[:MOST_VALUES]
        ],
    )
