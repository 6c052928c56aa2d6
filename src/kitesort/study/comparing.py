"""Two class maps of a study beside each other."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from kitesort.core.assess.compare_maps import (
    FromTo,
    SamePoints,
    adjusted_rand,
    compare_maps,
    compare_on_points,
    match_by_overlap,
)
from kitesort.core.classify.operations.clusters import SPEC as CLUSTERS
from kitesort.core.classify.operations.disagreement import SPEC as DISAGREEMENT
from kitesort.core.classify.operations.disagreement import DisagreementSettings, SamePair
from kitesort.core.classify.operations.divide import SPEC as DIVIDE
from kitesort.core.errors import InputError
from kitesort.core.legend import NODATA_CODE, Legend, same_named
from kitesort.core.newest import Newest
from kitesort.core.recipe import LayerLeaf, Node, open_recipe
from kitesort.store.records import Layer
from kitesort.study.accuracy import Accuracy, check_map
from kitesort.study.maps import add_map, get_map
from kitesort.study.rasters import READER, open_layer

MOST_PIXELS = 200_000_000  # that are counted while somebody waits
KEPT = 16
CLUSTER_METHODS = (CLUSTERS.id, DIVIDE.id)


@dataclass(frozen=True)
class MapComparison:
    """``table``: pixels and hectares from each class of the first map (rows) to each of the second;
    ``same``: share of pixels whose classes have the same name, or of clusters are taken for the
    same; ``matched``: of clusters, which of the second is taken for which of the first, and
    ``rand``, the adjusted Rand index; ``points``: None where there are no reference points that
    both maps cover, or of clusters."""

    rows: Legend
    columns: Legend
    table: FromTo
    same: float | None
    points: SamePoints | None
    matched: dict[int, int] | None = None
    rand: float | None = None


def compare(first_id: int, second_id: int) -> MapComparison:
    """All pixels that have a class in both.

    Raises
    ------
    NotFoundError. GridMismatchError. InputError : not maps of one study, or too large.
    """
    first, second = _two(first_id, second_id)
    one, other = (open_layer(layer.id, "work") for layer in (first, second))
    grid = one.grid
    if grid.width * grid.height > MOST_PIXELS:
        raise InputError("These maps are too large to be compared at once. Crop both first.")
    key = one.fingerprint, other.fingerprint
    table = _tables.get(key, lambda: compare_maps(one, other))
    rows = _used(first, table.pixels_by_code())
    columns = _used(second, table.pixels_by_code(of_second=True))
    if not _are_clusters(first, second):
        same = table.same(same_named(first.map.legend, second.map.legend))
        return MapComparison(rows, columns, table, same, _points(first, second))
    matched = match_by_overlap(table)
    rand = adjusted_rand(table)
    return MapComparison(rows, columns, table, table.same(matched), None, matched, rand)


def _are_clusters(*layers: Layer) -> bool:
    """Whether a name says nothing in one of them: the first cluster of one is not another's."""
    return any(layer.map.method in CLUSTER_METHODS for layer in layers)


def _used(layer: Layer, pixels: Mapping[int, int]) -> Legend:
    return tuple(entry for entry in layer.map.legend if entry.code in pixels)


def _two(first_id: int, second_id: int) -> tuple[Layer, Layer]:
    first, second = get_map(first_id), get_map(second_id)
    if first.study_id != second.study_id or first_id == second_id:
        raise InputError("Choose two different maps of one study.")
    return first, second


def _points(first: Layer, second: Layer) -> SamePoints | None:
    """On the reference points to which both maps give a class."""
    try:
        found = [check_map(one.id) for one in (first, second)]
    except InputError:  # the classes of one are none of the scheme's
        return None
    right = [_right(one) for one in found]
    shared = [point for point in right[0] if point in right[1]]
    if not shared:
        return None
    return compare_on_points(*(np.array([one[point] for point in shared]) for one in right))


def _right(accuracy: Accuracy) -> dict[int, bool]:
    """Whether the map is right, by the point's id."""
    return {
        c.point.id: c.mapped_code == c.reference_code
        for c in accuracy.points
        if c.mapped_code != NODATA_CODE
    }


def make_disagreement(first_id: int, second_id: int) -> Layer:
    """A map of where two maps differ; nothing is computed until it is looked at.

    Raises
    ------
    NotFoundError, GridMismatchError, InputError
    """
    first, second = _two(first_id, second_id)
    matched = compare(first_id, second_id).matched or {}
    pairs = tuple(SamePair(first=one, second=other) for one, other in matched.items())
    recipe = Node(
        operation=DISAGREEMENT.id,
        version=DISAGREEMENT.version,
        settings=DisagreementSettings(pairs=pairs).model_dump(mode="json"),
        inputs=tuple(LayerLeaf(layer_id=one.id, name=one.title) for one in (first, second)),
    )
    return add_map(first.study_id, recipe, open_recipe(recipe, READER))


_tables: Newest[tuple[str, str], FromTo] = Newest(KEPT)
