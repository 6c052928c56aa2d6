"""Class maps: facts, tiles, accuracy."""

from collections.abc import Mapping

import numpy as np
from fastapi import Request, Response

from kitesort.api.accuracy_schemas import AccuracyOut, PointOut, ProportionOut
from kitesort.api.class_tiles import class_tile
from kitesort.api.grids import grid_out
from kitesort.api.look_schemas import RegionIn, ShareOut, SharesOut
from kitesort.api.routes import api_router
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import (
    Id,
    LegendOut,
    MapOut,
    UpperQuery,
)
from kitesort.core.assess.error_matrix import Proportion
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.errors import InputError, NotFoundError
from kitesort.core.legend import N_CODES, NODATA_CODE, UNCLASSIFIED_CODE
from kitesort.core.raster.protocol import roles_of
from kitesort.store.records import Layer, ToldMap
from kitesort.store.studies import get_study
from kitesort.study import maps
from kitesort.study.accuracy import check_map
from kitesort.study.drawn_sites import trained_on_now
from kitesort.study.look import make_region, region_values
from kitesort.study.rasters import (
    display_grid,
    for_display,
    open_layer,
    opened,
)
from kitesort.study.upper_level import colours_at

router = api_router("maps")


@router.get("/studies/{study_id}/maps")
def get_maps(study_id: Id) -> list[MapOut]:
    """Newest first."""
    get_study(study_id)
    return _maps_out(study_id, maps.list_maps(study_id))


@router.get(
    "/maps/{layer_id}/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_map_tile(
    request: Request, layer_id: Id, level: int, row: int, col: int, upper: UpperQuery = False
) -> Response:
    layer = maps.get_map(layer_id)
    raster = for_display(open_layer(layer_id, "work"), layer.study_id)
    colours = colours_at(layer.study_id, layer.map.legend, upper)
    return class_tile(request, raster, (level, row, col), colours)


@router.post("/maps/{layer_id}/shares")
def count_shares(layer_id: Id, body: RegionIn) -> SharesOut:
    """How many pixels of a region each class of a map has: of all native ones, or of many spread
    over it."""
    layer = maps.get_map(layer_id)
    region = make_region(body.extent, tuple(body.site_ids), tuple(body.outlines))
    shown = opened(layer_id)
    found = region_values(shown, roles_of(shown.raster("see"))[:1], region)
    counts = np.bincount(found.values[0].astype(np.int64), minlength=N_CODES)
    return SharesOut(
        classes=[
            ShareOut(
                code=entry.code,
                pixels=int(counts[entry.code]),
                percent=100 * int(counts[entry.code]) / max(found.n_valid, 1),
            )
            for entry in layer.map.legend
            if counts[entry.code] or entry.code != UNCLASSIFIED_CODE
        ],
        n_valid=found.n_valid,
        n_covered=found.n_covered,
        exact=found.exact,
    )


@router.get("/maps/{layer_id}/accuracy")
def get_accuracy(layer_id: Id, upper: UpperQuery = False) -> AccuracyOut:
    """Error matrix against the study's reference points; at the ``upper`` level of the class scheme
    classes that belong to the same one are not confused."""
    result = check_map(layer_id, upper)
    matrix = result.matrix
    return AccuracyOut(
        codes=list(matrix.codes),
        own_codes=result.own_codes,
        names=[entry.name for entry in result.entries],
        colours=[entry.colour for entry in result.entries],
        counts=matrix.counts.tolist(),
        n_points=matrix.n_points,
        n_without_map=result.n_without_map,
        unknown=result.unknown,
        overall=_proportion_out(matrix.overall),
        producers=[_proportion_out(p) for p in matrix.producers],
        users=[_proportion_out(p) for p in matrix.users],
        kappa=matrix.kappa,
        points=[
            PointOut(
                id=c.point.id,
                x=c.point.x,
                y=c.point.y,
                reference_code=c.reference_code,
                mapped_code=c.mapped_code,
            )
            for c in result.points
        ],
    )


def _proportion_out(p: Proportion) -> ProportionOut:
    return ProportionOut.model_validate(p, from_attributes=True)


def map_out(layer: Layer) -> MapOut:
    """One class map."""
    others = [one for one in maps.list_maps(layer.study_id) if one.id != layer.id]
    return _maps_out(layer.study_id, [layer, *others])[0]


def _maps_out(study_id: int, found: list[Layer]) -> list[MapOut]:
    """The sites are looked at once for each scene, however many maps there are of it."""
    known = {one.id: one.map for one in found}
    begun = {one.id: _told_first(one.map, known) for one in found}
    trained = {told.scene_id for told in begun.values() if told.trained_on is not None}
    sites_now = {i: _sites_now(study_id, i) for i in trained if i is not None}
    return [_map_out(one, begun[one.id], sites_now) for one in found]


def _told_first(told: ToldMap, known: Mapping[int, ToldMap]) -> ToldMap:
    """Of the map that a map was made of by steps, as far as these are known."""
    while told.trained_on is None and told.scene_id is not None and told.scene_id in known:
        told = known[told.scene_id]
    return told


def _sites_now(study_id: int, scene_id: int) -> str | None:
    """None where the scene cannot be opened any more."""
    try:
        return trained_on_now(study_id, scene_id)
    except (InputError, NotFoundError):
        return None


def _map_out(layer: Layer, begun: ToldMap, sites_now: Mapping[int, str | None]) -> MapOut:
    told, areas = layer.map, layer.areas
    return MapOut(
        id=layer.id,
        scene_id=told.scene_id,
        title=layer.title,
        sentence=told.sentence,
        method=told.method,
        roles=list(told.roles),
        n_sites=told.n_sites,
        legend=legend_out(layer),
        nodata_pixels=areas and areas.pixels.get(NODATA_CODE, 0),
        seconds=areas and areas.seconds,
        created_at=layer.created_at,
        up_to_date=_is_up_to_date(begun, sites_now.get(begun.scene_id or 0)),
        kept=layer.kept_path is not None,
        grid=told.grid and grid_out(display_grid(told.grid.to_grid(), layer.study_id)),
    )


def _is_up_to_date(told: ToldMap, sites_now: str | None) -> bool:
    """Whether the same settings would make the same pixels now: scenes never change, names and
    colours are no pixels, and what is not trained depends on nothing that changes. Of a map made of
    another one by steps, what is told of that one counts."""
    if told.trained_on is None:
        return True
    return (
        told.method in CLASSIFIERS
        and CLASSIFIERS[told.method].version == told.method_version
        and told.trained_on == sites_now
    )


def legend_out(layer: Layer) -> list[LegendOut]:
    """Every class of a map with its area, once it is kept; unclassified pixels only where there
    are some."""
    areas = layer.areas
    if areas is None:
        return [
            LegendOut(
                code=entry.code, name=entry.name, colour=entry.colour,
                pixels=None, hectares=None, percent=None,
            )
            for entry in layer.map.legend
        ]  # fmt: skip
    total = sum(n for code, n in areas.pixels.items() if code != NODATA_CODE)
    return [
        LegendOut(
            code=entry.code,
            name=entry.name,
            colour=entry.colour,
            pixels=areas.pixels.get(entry.code, 0),
            hectares=areas.hectares.get(entry.code, 0.0),
            percent=100 * areas.pixels.get(entry.code, 0) / max(total, 1),
        )
        for entry in layer.map.legend
        if areas.pixels.get(entry.code) or entry.code != UNCLASSIFIED_CODE
    ]
