"""Scenes: facts, statistics, comparison."""

from collections.abc import Iterator
from typing import Annotated

from fastapi import Query, Request

from kitesort.api.grids import grid_out
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_out import scene_out
from kitesort.api.scene_schemas import (
    BrokenSceneOut,
    ComparedSceneOut,
    ComparisonOut,
    CrsOut,
    SceneOut,
    StatisticsOut,
)
from kitesort.api.schemas import Id, RunOut
from kitesort.core.crs_search import search_crs
from kitesort.core.errors import KiteSortError
from kitesort.core.grid import parse_crs
from kitesort.core.grid_comparison import compare_grids
from kitesort.runs import statistics
from kitesort.runs.queue import RunQueue
from kitesort.store import scenes
from kitesort.store.layers import get_layer, require_in_study
from kitesort.store.studies import get_study
from kitesort.study.rasters import open_layer
from kitesort.study.scene_statistics import scene_statistics

router = api_router("scenes")


@router.get("/studies/{study_id}/scenes")
def get_scenes(study_id: Id) -> list[SceneOut]:
    """Those that can be opened; one that cannot takes none of the others with it."""
    get_study(study_id)
    return [said for said in _told(study_id) if isinstance(said, SceneOut)]


@router.get("/studies/{study_id}/broken-scenes")
def get_broken_scenes(study_id: Id) -> list[BrokenSceneOut]:
    """Scenes whose files have gone or been damaged, or whose recipe cannot be followed any more."""
    get_study(study_id)
    return [said for said in _told(study_id) if isinstance(said, BrokenSceneOut)]


def _told(study_id: int) -> Iterator[SceneOut | BrokenSceneOut]:
    for scene in scenes.list_scenes(study_id):
        try:
            yield scene_out(scene)
        except KiteSortError as error:
            yield BrokenSceneOut(id=scene.id, title=scene.title, problem=error.sentence)


@router.get("/scenes/{scene_id}/statistics")
def get_statistics(scene_id: Id) -> StatisticsOut:
    """Of every pixel where there are few or they have been counted, else of native ones spread
    over the scene."""
    return StatisticsOut.model_validate(scene_statistics(scene_id), from_attributes=True)


@router.post("/scenes/{scene_id}/statistics", status_code=201)
def count_statistics(request: Request, scene_id: Id) -> RunOut:
    """Count over every pixel, as a run."""
    scene = get_layer(scene_id)
    queue: RunQueue = request.app.state.queue
    task = statistics.StatisticsTask(scene_id=scene_id)
    title = f"Counting {scene.title}"
    return run_out(queue.submit(scene.study_id, title, statistics.KIND, task))


@router.get("/studies/{study_id}/comparison")
def compare_scenes(
    study_id: Id, scene_ids: Annotated[list[int], Query(min_length=1, max_length=40)]
) -> ComparisonOut:
    """The grids of scenes, each held against the first one's."""
    named = require_in_study(study_id, scene_ids)
    first = open_layer(named[0].id).grid
    compared = []
    for scene in named:
        grid = open_layer(scene.id).grid
        differences = compare_grids(first, grid, named[0].title, scene.title)
        compared.append(
            ComparedSceneOut(
                id=scene.id,
                title=scene.title,
                crs_name=parse_crs(grid.crs).name,
                grid=grid_out(grid),
                differences=[d.sentence for d in differences],
                fits_beside=all(d.aspect == "extent" for d in differences),
            )
        )
    return ComparisonOut(scenes=compared)


@router.get("/crs")
def find_crs(text: Annotated[str, Query(max_length=100)]) -> list[CrsOut]:
    """Coordinate systems by code or by words of their name and area."""
    return [CrsOut.model_validate(entry, from_attributes=True) for entry in search_crs(text)]
