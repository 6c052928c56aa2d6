"""Bring in: files received piece by piece, what was recognised in them, and what is taken."""

import asyncio
from pathlib import Path
from typing import Annotated

from fastapi import Query, Request
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect

from kitesort.api.proposals import findings_out, proposed, ranges_out, taken_scene
from kitesort.api.raw_body import RAW_BODY
from kitesort.api.routes import api_router
from kitesort.api.scene_out import scene_out, stored_with_answers
from kitesort.api.scene_schemas import (
    DeliveryCreate,
    DeliveryOut,
    FindingsOut,
    FolderDeliveryCreate,
    FolderEntryOut,
    KeptDeliveryOut,
    RangesOut,
    ReceivedOut,
    SceneOut,
    TakeScenes,
)
from kitesort.api.schemas import DependantOut, Id
from kitesort.core.delivery.doubts import doubts_about
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import DeliveredScene
from kitesort.store import deliveries, received
from kitesort.store.deliveries import Reception
from kitesort.store.received import Received
from kitesort.store.records import Delivery
from kitesort.store.scenes import add_scene
from kitesort.store.studies import get_study

router = api_router("deliveries")

PIECE = 2 * 2**20


@router.post("/studies/{study_id}/deliveries", status_code=201)
def create_delivery(study_id: Id, body: DeliveryCreate) -> DeliveryOut:
    """An empty delivery, to send files into."""
    return _delivery_out(deliveries.create_delivery(study_id, body.name, "upload"))


@router.post("/studies/{study_id}/folder-deliveries", status_code=201)
def take_folder(study_id: Id, body: FolderDeliveryCreate) -> DeliveryOut:
    """A folder or file that the server may see; it stays where it is and is never written to."""
    folder = deliveries.require_allowed(body.path)
    return _delivery_out(deliveries.create_delivery(study_id, folder.name, "folder", folder))


@router.get("/folders")
def get_folder(path: Annotated[str | None, Query(max_length=4000)] = None) -> list[FolderEntryOut]:
    """What lies in an allowed folder; the allowed folders when none is named."""
    entries = deliveries.list_folder(path)
    return [FolderEntryOut.model_validate(e, from_attributes=True) for e in entries]


@router.get("/studies/{study_id}/deliveries")
def get_deliveries(study_id: Id) -> list[KeptDeliveryOut]:
    """What has been received, with what is made of it; newest first."""
    get_study(study_id)
    return [_kept_out(one) for one in received.list_received(study_id)]


@router.delete("/deliveries/{delivery_id}", status_code=204)
def remove_delivery(delivery_id: Id, with_scenes: bool = False) -> None:
    """Delete received files, and with them the scenes made of them where that is said; this cannot
    be undone. Files in a folder of the server's are left alone."""
    received.remove_delivery(delivery_id, with_scenes)


@router.get("/deliveries/{delivery_id}/received")
def get_received(delivery_id: Id, path: str) -> ReceivedOut:
    """How much of a file has arrived, and the checksum of one that is whole."""
    digest = deliveries.checksum_of(delivery_id, path)
    n_bytes = deliveries.received_bytes(delivery_id, path)
    return ReceivedOut(received=n_bytes, whole=digest is not None, sha256=digest)


@router.put("/deliveries/{delivery_id}/file", openapi_extra=RAW_BODY)
async def send_file(
    request: Request,
    delivery_id: Id,
    path: str,
    size: Annotated[int, Query(ge=0)],
    offset: Annotated[int, Query(ge=0)] = 0,
) -> ReceivedOut:
    """The bytes of a file from ``offset`` on, as the body; an archive is unpacked when whole."""
    entering = deliveries.receive(delivery_id, path, offset, size)
    reception = await run_in_threadpool(entering.__enter__)
    try:
        await _pour(request, reception)
    finally:
        await run_in_threadpool(entering.__exit__, None, None, None)
    whole = await run_in_threadpool(deliveries.complete, delivery_id, path, reception)
    return ReceivedOut(received=reception.received, whole=whole, sha256=None)


async def _pour(request: Request, reception: Reception) -> None:
    """From the connection to the disk; while one piece is written the next one is received."""
    pieces: list[bytes] = []
    waiting = 0
    writing: asyncio.Task[None] | None = None
    try:
        async for chunk in request.stream():
            pieces.append(chunk)
            waiting += len(chunk)
            if waiting >= PIECE:
                if writing:
                    await writing
                writing = asyncio.create_task(run_in_threadpool(reception.write, pieces))
                pieces, waiting = [], 0
    except ClientDisconnect:
        pass  # what came is kept, and sending goes on from there
    finally:
        if writing:
            await writing
    await run_in_threadpool(reception.write, pieces)


@router.get("/deliveries/{delivery_id}/findings")
def get_findings(delivery_id: Id) -> FindingsOut:
    """What was recognised, what is asked, and what could not be understood."""
    delivery = deliveries.get_delivery(delivery_id)
    inventory = deliveries.inventory_of(delivery)
    return findings_out(inventory, recognise(inventory), deliveries.list_files(delivery_id))


@router.get("/deliveries/{delivery_id}/ranges")
def get_ranges(delivery_id: Id, position: Annotated[int, Query(ge=0)]) -> RangesOut:
    """The range of each band of a recognised scene, from native pixels spread over it."""
    return ranges_out(_proposed(delivery_id, position))


@router.get("/deliveries/{delivery_id}/doubts")
def get_doubts(
    delivery_id: Id,
    position: Annotated[int, Query(ge=0)],
    roles: Annotated[str, Query(max_length=2_000, description="of its bands, with commas between")],
) -> list[str]:
    """Whether the bands' numbers contradict the roles that are given to them, as questions."""
    named = {i: role for i, role in enumerate(roles.split(",")) if role}
    return doubts_about(_proposed(delivery_id, position), named)


def _proposed(delivery_id: int, position: int) -> DeliveredScene:
    found = recognise(deliveries.inventory_of(deliveries.get_delivery(delivery_id))).scenes
    return proposed(found, position)


@router.post("/deliveries/{delivery_id}/scenes", status_code=201)
def take_scenes(delivery_id: Id, body: TakeScenes) -> list[SceneOut]:
    """Take recognised scenes into the study, with what the analyst said of them; all or none."""
    delivery = deliveries.get_delivery(delivery_id)
    found = recognise(deliveries.inventory_of(delivery)).scenes
    taken = [(wish, taken_scene(found, wish)) for wish in body.scenes]
    for _, scene in taken:
        open_delivery(scene)
    return stored_with_answers(
        lambda: [add_scene(delivery.study_id, w.title, scene, w.series) for w, scene in taken],
        scene_out,
    )


def _delivery_out(delivery: Delivery) -> DeliveryOut:
    return DeliveryOut(
        id=delivery.id, name=Path(delivery.name).name or delivery.name, origin=delivery.origin
    )


def _kept_out(one: Received) -> KeptDeliveryOut:
    return KeptDeliveryOut(
        **_delivery_out(one.delivery).model_dump(),
        created_at=one.delivery.created_at,
        is_ours=one.is_ours,
        n_files=one.n_files,
        n_bytes=one.n_bytes,
        n_unfinished=one.n_unfinished,
        scenes=[DependantOut(id=scene.id, title=scene.title) for scene in one.scenes],
    )
