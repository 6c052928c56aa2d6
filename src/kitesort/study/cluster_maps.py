"""Kept maps of clusters: what each cluster is like, and which class it is."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.operations.clusters import SPEC as CLUSTERS
from kitesort.core.classify.operations.clusters import ClustersSettings
from kitesort.core.classify.operations.divide import SPEC as DIVIDE
from kitesort.core.classify.operations.named import SPEC as NAMED
from kitesort.core.classify.operations.named import NamedClass, NamedCode, NamedSettings
from kitesort.core.classify.stored import ToldClassifier
from kitesort.core.cluster.places import typical_places
from kitesort.core.cluster.sample import ClusterSample, read_sample
from kitesort.core.cluster.tree import Joint, cluster_tree
from kitesort.core.display.tile import VEIL
from kitesort.core.errors import InputError, TrainingError
from kitesort.core.geometry import reproject_point
from kitesort.core.grid import Grid, Window
from kitesort.core.group_statistics import Float64Array, compute_statistics
from kitesort.core.legend import NODATA_CODE, UNCLASSIFIED_CODE, LegendEntry
from kitesort.core.newest import Newest
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.recipe import Node, Recipe, open_recipe, source_of
from kitesort.store.cluster_names import names_of
from kitesort.store.layers import recipe_of
from kitesort.store.records import Layer
from kitesort.store.scheme import list_classes
from kitesort.study.applying import stored_classifier
from kitesort.study.clustering import LIVE_PIXELS
from kitesort.study.maps import get_map
from kitesort.study.rasters import READER, layer_record, open_layer, study_crs
from kitesort.study.training import make_training, samples_of

CODE = "code"
KEPT_FACTS = 8
ROOM = 14
SIDE = 512  # of the windows in which codes are looked up


@dataclass(frozen=True)
class Suggested:
    """The class whose training sites lie in a cluster most: how many of them, of how many."""

    class_code: int
    n_sites: int
    n_here: int


@dataclass(frozen=True)
class ClusterFacts:
    """Mean and spread (bands,) of its pixels looked at, their share of all of them; where it is
    seen best, in the study's CRS; the cluster that is nearest to it."""

    entry: LegendEntry
    share: float
    mean: Float64Array
    spread: Float64Array
    places: tuple[tuple[float, float], ...]
    nearest: int | None


@dataclass(frozen=True)
class MapFacts:
    """``exact``: shares were counted over all pixels, and not over some."""

    scene_id: int
    told: ToldClassifier
    roles: tuple[str, ...]
    clusters: tuple[ClusterFacts, ...]
    tree: tuple[Joint, ...]
    exact: bool


def require_clusters(layer_id: int) -> Layer:
    """Raises NotFoundError, InputError : a map of something else."""
    layer = get_map(layer_id)
    _ = clustering_in(recipe_of(layer_id), layer.title)
    return layer


def clustering_in(recipe: Recipe, title: str = "This map") -> ClustersSettings:
    """The clustering that a map began with.

    Raises
    ------
    InputError : the map has other classes.
    """
    source = source_of(recipe)
    while isinstance(source, Node):
        if source.operation == CLUSTERS.id:
            settings: ClustersSettings = source.checked
            return settings
        if source.operation != DIVIDE.id:
            break
        source = source_of(source.inputs[0])
    raise InputError(f"“{title}” is no map of clusters.")


def map_facts(layer_id: int) -> MapFacts:
    """What each cluster is like, from pixels spread over the scene; remembered."""
    return _facts.get(layer_id, lambda: _look(layer_id))


def _look(layer_id: int) -> MapFacts:
    layer = require_clusters(layer_id)
    settings = clustering_in(recipe_of(layer_id))
    told = stored_classifier(settings.classifier).told
    scene_id = layer.map.scene_id
    assert scene_id is not None
    codes, sample = coded_sample(layer_id, scene_id, told.roles, LIVE_PIXELS)
    areas = layer.areas.pixels if layer.areas else None
    entries = [e for e in layer.map.legend if e.code != UNCLASSIFIED_CODE]
    parts = [_part(sample, codes == e.code) for e in entries]
    means = np.stack([mean for mean, _ in parts])
    counted = np.array([np.sum(codes == e.code) for e in entries])
    weights = counted if areas is None else np.array([areas.get(e.code, 0) for e in entries])
    total = sum(n for c, n in areas.items() if c != NODATA_CODE) if areas else len(codes)
    scale = sample.values.std(axis=0) if sample.n else np.ones(len(told.roles))
    scaled = means / np.where(scale > 0, scale, 1)
    grid = open_layer(layer_id).grid
    inside = _away_from_edges(sample, grid)
    found = []
    for i, (entry, (mean, spread)) in enumerate(zip(entries, parts, strict=True)):
        here = codes == entry.code
        inner = here & inside
        places = typical_places(sample, inner if inner.any() else here, mean, spread)
        xy = tuple(_in_study(grid, layer.study_id, row, col) for row, col in places)
        nearest = _nearest(scaled, i)
        found.append(
            ClusterFacts(
                entry, float(weights[i] / max(total, 1)), mean, spread, xy,
                None if nearest is None else entries[nearest].code,
            )
        )  # fmt: skip
    tree = tuple(cluster_tree(scaled, weights))
    exact = areas is not None or (sample.exact and sample.n == sample.n_usable)
    return MapFacts(scene_id, told, told.roles, tuple(found), tree, exact)


def _away_from_edges(sample: ClusterSample, grid: Grid) -> npt.NDArray[np.bool_]:
    """Pixels (n,) with room for a small picture around them."""
    row, col = sample.rows, sample.cols
    return np.asarray(
        (row >= ROOM) & (row < grid.height - ROOM) & (col >= ROOM) & (col < grid.width - ROOM)
    )


def _in_study(grid: Grid, study_id: int, row: int, col: int) -> tuple[float, float]:
    x, y = grid.pixel_to_world(row + 0.5, col + 0.5)
    return reproject_point(x, y, grid.crs, study_crs(study_id))


def _nearest(centres: Float64Array, i: int) -> int | None:
    if len(centres) < 2:
        return None
    away = ((centres - centres[i]) ** 2).sum(axis=1)
    away[i] = np.inf
    return int(away.argmin())


def _part(sample: ClusterSample, here: npt.NDArray[np.bool_]) -> tuple[Float64Array, Float64Array]:
    """Mean and standard deviation; zeros where none of the pixels looked at is there."""
    if not here.any():
        nothing = np.zeros(sample.values.shape[1])
        return nothing, nothing
    s = compute_statistics(sample.values[here])
    return s.mean, s.standard_deviation


def coded_sample(
    layer_id: int, scene_id: int, roles: tuple[str, ...], most: int
) -> tuple[npt.NDArray[np.int64], ClusterSample]:
    """Pixels of the scene with the code (n,) that the map has there."""
    scene, codes = open_layer(scene_id, "work"), open_layer(layer_id, "work")
    members = (
        *(Member(role, scene, role) for role in roles),
        Member(CODE, codes, roles_of(codes)[0]),
    )
    joined = JoinedRaster(members, codes.grid)
    sample = read_sample(joined, (*roles, CODE), most, zero_is_fill=False)
    values = np.ascontiguousarray(sample.values[:, :-1])
    told = ClusterSample(values, sample.rows, sample.cols, roles, sample.n_usable, sample.exact)
    return sample.values[:, -1].astype(np.int64), told


def suggestions(layer_id: int) -> dict[int, Suggested]:
    """By cluster code, what the training sites that lie in it say; a site lies where most of its
    pixels do."""
    facts = map_facts(layer_id)
    study_id = layer_record(layer_id).study_id
    training = make_training(study_id, facts.scene_id, facts.roles)
    try:
        samples, _ = samples_of(facts.scene_id, training)
    except TrainingError:
        return {}
    codes = codes_at(open_layer(layer_id, "work"), samples.rows, samples.cols)
    votes: dict[int, list[int]] = {}
    for site in np.unique(samples.sites):
        mine = codes[samples.sites == site]
        code = int(np.bincount(mine).argmax())
        votes.setdefault(code, []).append(int(samples.codes[samples.sites == site][0]))
    return {code: _most_voted(classes) for code, classes in votes.items() if code != NODATA_CODE}


def _most_voted(classes: list[int]) -> Suggested:
    counts = np.bincount(classes)
    best = int(counts.argmax())
    return Suggested(best, int(counts[best]), len(classes))


def codes_at(
    raster: Raster, rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32]
) -> npt.NDArray[np.int64]:
    """Codes (n,) of pixels by row and column; 0 where there is none. Read window by window."""
    out = np.zeros(len(rows), np.int64)
    blocks = (rows // SIDE).astype(np.int64) * 2**20 + cols // SIDE
    for block in np.unique(blocks):
        here = np.flatnonzero(blocks == block)
        r, c = rows[here], cols[here]
        top, left = int(r.min()), int(c.min())
        window = Window(top, left, int(r.max()) - top + 1, int(c.max()) - left + 1)
        out[here] = codes_in(raster.read(window))[r - top, c - left]
    return out


def named_recipe(layer_id: int) -> Node:
    """The recipe of the map in classes, as the clusters are named now.

    Raises
    ------
    InputError : no cluster has a name yet.
    """
    layer = require_clusters(layer_id)
    names = names_of(layer_id)
    classes = {one.id: one for one in list_classes(layer.study_id)}
    known = {e.code for e in layer.map.legend if e.code != UNCLASSIFIED_CODE}
    told = [
        NamedCode(code=code, to=classes[class_id].code)
        for code, class_id in sorted(names.items())
        if code in known
    ]
    if not told:
        raise InputError("No cluster has a class yet. Give one to at least one of them.")
    settings = NamedSettings(
        names=tuple(told),
        classes=tuple(
            NamedClass(code=c.code, name=c.name, colour=c.colour) for c in classes.values()
        ),
    )
    recipe = Node(
        operation=NAMED.id,
        version=NAMED.version,
        settings=settings.model_dump(mode="json"),
        inputs=(recipe_of(layer_id),),
    )
    _ = open_recipe(recipe, READER).grid
    return recipe


def look_colours(layer_id: int, lit: int | None) -> dict[int, tuple[int, int, int, int]]:
    """Colours by cluster code: those of their classes, greys for what is not named yet; or, where
    one is ``lit``, a veil over all others."""
    layer = require_clusters(layer_id)
    codes = [e.code for e in layer.map.legend]
    if lit is not None:
        return {code: (0, 0, 0, 0) if code == lit else VEIL for code in codes}
    classes = {one.id: one for one in list_classes(layer.study_id)}
    names = names_of(layer_id)
    found: dict[int, tuple[int, int, int, int]] = {}
    for i, code in enumerate(codes):
        named = classes.get(names.get(code, -1))
        if named is not None:
            found[code] = (*LegendEntry(named.code, named.name, named.colour).rgb, 255)
        else:
            grey = GREYS[i % len(GREYS)]
            found[code] = (grey, grey, grey, 255)
    return found


GREYS = (112, 140, 168, 126, 154)


def named_share(facts: MapFacts, names: Mapping[int, int]) -> float:
    """Share of the map's pixels whose cluster has a class."""
    return sum(one.share for one in facts.clusters if one.entry.code in names)


_facts: Newest[int, MapFacts] = Newest(KEPT_FACTS)
