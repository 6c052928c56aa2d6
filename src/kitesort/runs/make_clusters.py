"""The run that clusters a whole scene: found on a sample, put on every pixel, kept."""

import time
from typing import Any

from pydantic import BaseModel

from kitesort.core.classify.given import given_of
from kitesort.core.classify.operations.clusters import SPEC as CLUSTERS
from kitesort.core.classify.operations.clusters import small
from kitesort.core.classify.stored import write_classifier
from kitesort.core.operation import Context
from kitesort.core.recipe import sentence_of
from kitesort.runs.keep_layer import write_map
from kitesort.runs.reporter import watch_run
from kitesort.store.classifiers import keep_classifier
from kitesort.store.database import transaction
from kitesort.store.layers import free_title
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.study.clustering import cluster_recipe, find_clusters, make_order
from kitesort.study.maps import add_map, areas_of
from kitesort.study.rasters import READER, layer_record, open_layer

KIND = "clusters"
FINDING_SHARE = 0.4  # of a run's progress


class ClusterTask(BaseModel):
    scene_id: int
    roles: tuple[str, ...]
    method: str
    settings: dict[str, Any]
    seed: int


def make_clusters(run: Run) -> None:
    """The clustering is kept as a classifier with its map, or neither is."""
    started = time.monotonic()
    task, watch = ClusterTask.model_validate(run.task), watch_run(run.id)
    scene_id = task.scene_id
    order = make_order(run.study_id, scene_id, task.roles, task.method, task.settings, task.seed)
    found = find_clusters(order, watch=watch.first(FINDING_SHARE))
    scene = open_layer(scene_id, "work")
    title = free_title(run.study_id, f"Clusters of {layer_record(scene_id).title}")
    sentence = f"{len(found.groups.sizes)} clusters of {layer_record(scene_id).title}, found by " \
        f"{small(order.spec.title)} on {found.n_looked_at} pixels"  # fmt: skip
    stored = found.stored(scene, sentence)
    content = write_classifier(stored)
    # Numbers make no pixels: the map can be made before the clustering is recorded and has one.
    draft = cluster_recipe(given_of(0, content, title, stored.told), stored.told, scene_id)
    context = Context(READER.open_layer, read_classifier=lambda _: content)
    raster = CLUSTERS.open((scene,), draft.checked, context)
    file = f"clusters-run-{run.id}.tif"
    result = write_map(draft, raster, file, watch.rest(FINDING_SHARE))
    seconds = time.monotonic() - started
    with transaction():
        kept = keep_classifier(run.study_id, title, stored, f"clusters-run-{run.id}.zip")
        given = given_of(kept.id, content, title, stored.told)
        recipe = cluster_recipe(given, stored.told, scene_id)
        layer = add_map(
            run.study_id, recipe, raster, title=title, file=file, areas=areas_of(result, seconds)
        )
        said = f"Kept as “{layer.title}” after {seconds:.1f} s. {sentence_of(recipe)}"
        finish_run(run.id, [*found.groups.rounds, said], layer.id)
