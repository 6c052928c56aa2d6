"""Clusters: methods, live, kept, named, divided."""

import hashlib
import json
from typing import Annotated

from fastapi import Query, Request, Response

from kitesort.api.class_tiles import class_tile
from kitesort.api.cluster_schemas import (
    ClusterCreate,
    ClusteringOut,
    ClusterMapOut,
    ClusterOut,
    CountsCreate,
    DivideCreate,
    JointOut,
    LiveClusterOut,
    LiveClustersOut,
    MadeMapOut,
    NamesIn,
    PlaceOut,
    SuggestionOut,
)
from kitesort.api.pictures import IMMUTABLE, picture_response
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import Id, RunOut
from kitesort.api.training import MethodQuery, RolesQuery, parse_roles
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.cluster.counts import counts_between
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.display.tile import colours_of, render_classes
from kitesort.core.errors import InputError, NotFoundError
from kitesort.core.legend import ClassCode
from kitesort.runs import count_clusters, make_clusters, make_map
from kitesort.runs.queue import RunQueue
from kitesort.store.cluster_names import name_clusters, names_of
from kitesort.store.scheme import list_classes
from kitesort.store.studies import get_study
from kitesort.study.cluster_maps import (
    ClusterFacts,
    Suggested,
    look_colours,
    map_facts,
    named_recipe,
    named_share,
    require_clusters,
    suggestions,
)
from kitesort.study.clustering import (
    ClusterOrder,
    Found,
    live_clusters,
    make_order,
    parse_order,
    remembered_clusters,
)
from kitesort.study.dividing import divide_class, divide_cluster
from kitesort.study.maps import get_map
from kitesort.study.rasters import for_display, layer_record, open_layer, usable_tile

router = api_router("clusters")
LitQuery = Annotated[ClassCode | None, Query(description="all but this one is veiled")]


@router.get("/clusterings")
def get_clusterings() -> list[ClusteringOut]:
    return [
        ClusteringOut(
            id=spec.id,
            title=spec.title,
            good_for=spec.good_for,
            source=spec.source,
            draws=spec.draws,
            counted=spec.counted,
            settings_schema=spec.settings.model_json_schema(),
        )
        for spec in CLUSTERINGS.values()
    ]


@router.get("/studies/{study_id}/clusters")
def get_live_clusters(
    study_id: Id, scene_id: Id, roles: RolesQuery = "", method: MethodQuery = ""
) -> LiveClustersOut:
    """Clusters of a scene as they are found on few pixels, at once."""
    get_study(study_id)
    order = parse_order(study_id, scene_id, parse_roles(scene_id, roles), method)
    try:
        return _live_out(live_clusters(order))
    except InputError as error:
        return LiveClustersOut(
            version=None, problem=error.sentence, clusters=[], rounds=[], n_sampled=0, n_usable=0,
            exact=False,
        )  # fmt: skip


def _live_out(found: Found) -> LiveClustersOut:
    sizes = found.groups.sizes
    return LiveClustersOut(
        version=found.order.version,
        problem=None,
        clusters=[
            LiveClusterOut(
                code=entry.code,
                colour=entry.colour,
                share=float(sizes[entry.code - 1] / found.sample.n),
            )
            for entry in found.legend[:-1]
        ],
        rounds=list(found.groups.rounds),
        n_sampled=found.sample.n,
        n_usable=found.sample.n_usable,
        exact=found.sample.exact,
    )


@router.get(
    "/studies/{study_id}/clusters/{version}/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_live_cluster_tile(
    request: Request,
    study_id: Id,
    version: str,
    level: int,
    row: int,
    col: int,
    scene_id: Id,
    roles: RolesQuery = "",
    method: MethodQuery = "",
) -> Response:
    """A tile of the clusters of this version."""
    found = remembered_clusters(version)
    if found is None:
        order = parse_order(study_id, scene_id, parse_roles(scene_id, roles), method)
        if order.version != version:
            raise NotFoundError("The settings have changed since; ask for the new version.")
        found = live_clusters(order)
    at, model = found.order.scene_id, found.groups.model
    if layer_record(at).study_id != study_id:
        raise NotFoundError("These clusters belong to another study.")
    raster = class_map_raster(open_layer(at), model, found.legend)
    colours = colours_of(found.legend)

    def make() -> bytes:
        pixels = usable_tile(at, level, row, col, found.order.roles)
        return render_classes(raster.compute(pixels, raster.inputs), colours)

    return picture_response(request, f"{version}|{level}|{row}|{col}", make, IMMUTABLE)


@router.post("/studies/{study_id}/cluster-runs", status_code=201)
def cluster_scene(request: Request, study_id: Id, body: ClusterCreate) -> RunOut:
    """Queue a map of clusters of a whole scene; they are found on a few pixels before, to see that
    it can be done."""
    live_clusters(_order(study_id, body))
    task = make_clusters.ClusterTask(**_told(body))
    title = f"Clustering {layer_record(body.scene_id).title}"
    queue: RunQueue = request.app.state.queue
    return run_out(queue.submit(study_id, title, make_clusters.KIND, task))


@router.post("/studies/{study_id}/cluster-counts", status_code=201)
def try_cluster_counts(request: Request, study_id: Id, body: CountsCreate) -> RunOut:
    """Queue a range of numbers of clusters; its rows come one by one."""
    order = _order(study_id, body)
    if not order.spec.counted:
        raise InputError(f"{order.spec.title} finds the number of clusters itself.")
    counts_between(body.fewest, body.most)
    task = count_clusters.CountTask(**_told(body), fewest=body.fewest, most=body.most)
    queue: RunQueue = request.app.state.queue
    return run_out(queue.submit(study_id, "Trying numbers of clusters", count_clusters.KIND, task))


def _order(study_id: int, body: ClusterCreate) -> ClusterOrder:
    get_study(study_id)
    roles = tuple(body.roles)
    return make_order(study_id, body.scene_id, roles, body.method, body.settings, body.seed)


def _told(body: ClusterCreate) -> dict[str, object]:
    return body.model_dump(include=set(ClusterCreate.model_fields))


@router.get("/cluster-maps/{layer_id}")
def get_cluster_map(layer_id: Id) -> ClusterMapOut:
    """Each cluster with its size, spectrum, typical places and class, and what the training sites
    in it suggest."""
    layer = require_clusters(layer_id)
    facts, names, told = map_facts(layer_id), names_of(layer_id), suggestions(layer_id)
    ids = {one.code: one.id for one in list_classes(layer.study_id)}
    found = facts.told.clusters
    return ClusterMapOut(
        layer_id=layer_id,
        title=layer.title,
        scene_id=facts.scene_id,
        method=found.title if found else "",
        roles=list(facts.roles),
        clusters=[
            _cluster_out(one, names.get(one.entry.code), told.get(one.entry.code), ids)
            for one in facts.clusters
        ],
        tree=[JointOut.model_validate(one, from_attributes=True) for one in facts.tree],
        rounds=list(found.rounds) if found else [],
        n_sampled=found.n_sampled if found else 0,
        n_usable=found.n_usable if found else 0,
        named=named_share(facts, names),
        exact=facts.exact,
        version=_version(layer_id),
    )


def _version(layer_id: int) -> str:
    told = json.dumps([layer_id, sorted(look_colours(layer_id, None).items())])
    return hashlib.blake2s(told.encode(), digest_size=8).hexdigest()


def _cluster_out(
    one: ClusterFacts, class_id: int | None, told: Suggested | None, ids: dict[int, int]
) -> ClusterOut:
    suggestion = None
    if told is not None and told.class_code in ids:
        suggestion = SuggestionOut(
            class_id=ids[told.class_code], n_sites=told.n_sites, n_here=told.n_here
        )
    return ClusterOut(
        code=one.entry.code,
        name=one.entry.name,
        colour=one.entry.colour,
        share=one.share,
        mean=one.mean.tolist(),
        spread=one.spread.tolist(),
        places=[PlaceOut(x=x, y=y) for x, y in one.places],
        nearest=one.nearest,
        class_id=class_id,
        suggestion=suggestion,
    )


@router.put("/cluster-maps/{layer_id}/names", status_code=204)
def put_cluster_names(layer_id: Id, body: NamesIn) -> None:
    """Give clusters classes, or take them back; one act, which can be undone."""
    layer = require_clusters(layer_id)
    entries = {e.code: e.name for e in layer.map.legend}
    wanted = {one.code: one.class_id for one in body.names}
    if len(wanted) < len(body.names) or not set(wanted) <= set(entries):
        raise InputError("A cluster is named twice, or is not in this map any more.")
    names = {one.id: one.name for one in list_classes(layer.study_id)}
    first = next(iter(wanted))
    what = entries[first] if len(wanted) == 1 else f"{len(wanted)} clusters"
    class_id = wanted[first]
    title = f"Call {what} {names.get(class_id or 0, '')}" if class_id else f"Unname {what}"
    name_clusters(layer_id, wanted, title.strip())


@router.get(
    "/cluster-maps/{layer_id}/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_cluster_tile(
    request: Request,
    layer_id: Id,
    level: int,
    row: int,
    col: int,
    lit: LitQuery = None,
    version: Annotated[str, Query(description="of the names: another address for each")] = "",
) -> Response:
    """A tile in the colours of the classes, greys for what has none yet; or a veil over all but one
    cluster."""
    del version
    layer = require_clusters(layer_id)
    raster = for_display(open_layer(layer_id, "work"), layer.study_id)
    return class_tile(request, raster, (level, row, col), look_colours(layer_id, lit))


@router.post("/cluster-maps/{layer_id}/divisions", status_code=201)
def divide(layer_id: Id, body: DivideCreate) -> MadeMapOut:
    """A new map in which one cluster is divided further."""
    layer = require_clusters(layer_id)
    made = divide_cluster(layer_id, body.code, _order(layer.study_id, body))
    return MadeMapOut(layer_id=made.id, title=made.title)


@router.post("/maps/{layer_id}/divisions", status_code=201)
def divide_map(layer_id: Id, body: DivideCreate) -> MadeMapOut:
    """A new map in which one class of any class map is parted into clusters."""
    made = divide_class(layer_id, body.code, _order(get_map(layer_id).study_id, body))
    return MadeMapOut(layer_id=made.id, title=made.title)


@router.post("/cluster-maps/{layer_id}/map", status_code=201)
def keep_named_map(request: Request, layer_id: Id) -> RunOut:
    """Queue the map in classes, as the clusters are named now."""
    layer = require_clusters(layer_id)
    task = make_map.MapTask(recipe=named_recipe(layer_id))
    queue: RunQueue = request.app.state.queue
    title = f"Keeping {layer.title} in classes"
    return run_out(queue.submit(layer.study_id, title, make_map.KIND, task))
